import { useQuery } from "@tanstack/react-query";
import i18next from "i18next";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { money, plain } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { MoneyTabs } from "../Tabs";

const monthName = (month: string) =>
  new Intl.DateTimeFormat(i18next.language === "en" ? "en-GB" : i18next.language, {
    month: "short",
    year: "numeric",
    timeZone: "UTC",
  }).format(new Date(`${month}-15T12:00:00Z`));

// Money shows what came in by month, with what customers gave by their own
// choice, what coupons took off and the tax in it; and what is open or held.
export function Money() {
  const { t } = useTranslation();
  const view = useQuery({ queryKey: ["money"], queryFn: () => take(api.GET("/api/desk/money")) });
  if (view.error) return <Trouble error={view.error} again={() => view.refetch()} />;
  const v = view.data;
  return (
    <main className="desk-page">
      <h1>{t("Money")}</h1>
      <MoneyTabs />
      {v && (
        <>
          <section>
            <h2>{t("Waits to be settled")}</h2>
            {v.waiting.length === 0 ? (
              <div className="empty">{t("Nothing is open and nothing is held.")}</div>
            ) : (
              <table className="figures sheet">
                <thead>
                  <tr>
                    <th scope="col">{t("Order")}</th>
                    <th scope="col">{t("Customer")}</th>
                    <th scope="col" className="num">
                      {t("Open")}
                    </th>
                    <th scope="col">{t("When")}</th>
                    <th scope="col" className="num">
                      {t("Held as security")}
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {v.waiting.map((w) => (
                    <tr key={w.number}>
                      <th scope="row">
                        <Link to={`/orders/${w.line}`}>{w.number}</Link>
                      </th>
                      <td>{w.customer}</td>
                      <td className="num">{w.open > 0 ? plain(w.open, v.currency) : ""}</td>
                      <td>{w.due}</td>
                      <td className="num">{w.held > 0 ? plain(w.held, v.currency) : ""}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
          </section>
          <section>
            <h2>{t("By month, in {{currency}}", { currency: v.currency })}</h2>
            {v.months.length === 0 ? (
              <div className="empty">{t("What comes in will be here.")}</div>
            ) : (
              <>
                <Bars months={v.months} currency={v.currency} />
                <Months months={v.months} currency={v.currency} />
              </>
            )}
          </section>
        </>
      )}
    </main>
  );
}

// Bars draws the months, the oldest first.
function Bars({ months, currency }: { months: Schemas["MoneyMonth"][]; currency: string }) {
  const { t } = useTranslation();
  const list = months.toReversed();
  const most = Math.max(...list.map((m) => m.total), 1);
  return (
    <div
      className="money-bars"
      role="img"
      aria-label={t("What came in each month: {{months}}", {
        months: list.map((m) => `${monthName(m.month)} ${money(m.total, currency)}`).join(", "),
      })}
    >
      {list.map((m) => (
        <div key={m.month}>
          <span className="num small">{plain(m.total, currency)}</span>
          <svg viewBox="0 0 40 100" preserveAspectRatio="none" aria-hidden="true">
            <rect
              className="bar"
              x="0"
              width="40"
              y={100 - (96 * m.total) / most}
              height={(96 * m.total) / most}
            />
            <rect
              className="bar-given"
              x="0"
              width="40"
              y={100 - (96 * m.given) / most}
              height={(96 * m.given) / most}
            />
          </svg>
          <span className="small quiet">{monthName(m.month)}</span>
        </div>
      ))}
      <p className="small quiet money-key">
        <i className="bar-given" /> {t("of it given by customers’ own choice")}
      </p>
    </div>
  );
}

function Months({ months, currency }: { months: Schemas["MoneyMonth"][]; currency: string }) {
  const { t } = useTranslation();
  const rates = [
    ...new Set(months.flatMap((m) => m.taxes.filter((x) => x.amount > 0).map((x) => x.percent))),
  ].sort((a, b) => Number(b) - Number(a));
  const amount = (n: number) => (n === 0 ? "" : plain(n, currency));
  return (
    <table className="figures sheet">
      <thead>
        <tr>
          <th scope="col">{t("Month")}</th>
          <th scope="col" className="num">
            {t("Orders")}
          </th>
          <th scope="col" className="num">
            {t("Total")}
          </th>
          <th scope="col" className="num">
            {t("Given freely")}
          </th>
          <th scope="col" className="num">
            {t("Off by coupons")}
          </th>
          {rates.map((r) => (
            <th scope="col" key={r} className="num">
              {t("Tax {{percent}} %", { percent: r })}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {months.map((m) => (
          <tr key={m.month}>
            <th scope="row">{monthName(m.month)}</th>
            <td className="num">{m.orders}</td>
            <td className="num">{plain(m.total, currency)}</td>
            <td className="num">{amount(m.given)}</td>
            <td className="num">{amount(m.coupons)}</td>
            {rates.map((r) => (
              <td key={r} className="num">
                {amount(m.taxes.find((x) => x.percent === r)?.amount ?? 0)}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
