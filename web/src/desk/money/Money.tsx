import { useInfiniteQuery } from "@tanstack/react-query";
import { Button } from "antd";
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

// Money shows what came in and went back by month, with what was ordered, what
// customers gave by their own choice, what coupons took off and the tax in it;
// and what is open, paid too much or held.
export function Money() {
  const { t } = useTranslation();
  const view = useInfiniteQuery({
    queryKey: ["money"],
    queryFn: ({ pageParam }) => take(api.GET("/api/desk/money", { params: { query: { after: pageParam } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => last.more,
  });
  if (view.error) return <Trouble error={view.error} again={() => view.refetch()} />;
  const v = view.data?.pages[0];
  const waiting = view.data?.pages.flatMap((p) => p.waiting) ?? [];
  return (
    <main className="desk-page">
      <h1>{t("Money")}</h1>
      <MoneyTabs />
      {v && (
        <>
          <section>
            <h2>{t("Waits to be settled")}</h2>
            <Waiting rows={waiting} />
            {view.hasNextPage && (
              <Button type="link" loading={view.isFetchingNextPage} onClick={() => view.fetchNextPage()}>
                {t("Show more")}
              </Button>
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

// Waiting lists the orders that do not balance.
function Waiting({ rows }: { rows: Schemas["WaitingMoney"][] }) {
  const { t } = useTranslation();
  if (rows.length === 0) return <div className="empty">{t("Nothing is open and nothing is held.")}</div>;
  const amount = (n: number, currency: string) => (n > 0 ? money(n, currency) : "");
  return (
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
            {t("Paid too much")}
          </th>
          <th scope="col" className="num">
            {t("Held as security")}
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((w) => (
          <tr key={w.number}>
            <th scope="row">
              <Link to={`/orders/${w.line}`}>{w.number}</Link>
            </th>
            <td>{w.customer}</td>
            <td className="num">{amount(w.open, w.currency)}</td>
            <td>{w.due}</td>
            <td className="num">{amount(w.overpaid, w.currency)}</td>
            <td className="num">{amount(w.held, w.currency)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

// Bars draws the months, the oldest first.
function Bars({ months, currency }: { months: Schemas["MoneyMonth"][]; currency: string }) {
  const { t } = useTranslation();
  const list = months.toReversed();
  const most = Math.max(...list.map((m) => m.paid), 1);
  return (
    <div
      className="money-bars"
      role="img"
      aria-label={t("What came in each month: {{months}}", {
        months: list.map((m) => `${monthName(m.month)} ${money(m.paid, currency)}`).join(", "),
      })}
    >
      {list.map((m) => (
        <div key={m.month}>
          <span className="num small">{plain(m.paid, currency)}</span>
          <svg viewBox="0 0 40 100" preserveAspectRatio="none" aria-hidden="true">
            <rect
              className="bar"
              x="0"
              width="40"
              y={100 - (96 * m.paid) / most}
              height={(96 * m.paid) / most}
            />
            <rect
              className="bar-given"
              x="0"
              width="40"
              y={100 - (96 * m.returned) / most}
              height={(96 * m.returned) / most}
            />
          </svg>
          <span className="small quiet">{monthName(m.month)}</span>
        </div>
      ))}
      <p className="small quiet money-key">
        <i className="bar-given" /> {t("of it given back")}
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
            {t("Came in")}
          </th>
          <th scope="col" className="num">
            {t("Went back")}
          </th>
          <th scope="col" className="num">
            {t("Orders")}
          </th>
          <th scope="col" className="num">
            {t("Ordered for")}
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
            <td className="num">{amount(m.paid)}</td>
            <td className="num">{amount(m.returned)}</td>
            <td className="num">{m.orders || ""}</td>
            <td className="num">{amount(m.charged)}</td>
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
