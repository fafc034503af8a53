import { useInfiniteQuery } from "@tanstack/react-query";
import { Button } from "antd";
import i18next from "i18next";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { money, plain } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { Rows } from "../Rows";
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
    <Rows
      rows={rows}
      by={(w) => w.number}
      columns={[
        {
          title: t("Order"),
          rowScope: "row",
          sorter: (a, b) => a.number - b.number,
          render: (_, w) => <Link to={`/orders/${w.line}`}>{w.number}</Link>,
        },
        {
          title: t("Customer"),
          dataIndex: "customer",
          sorter: (a, b) => a.customer.localeCompare(b.customer),
        },
        {
          title: t("Open"),
          align: "right",
          className: "num",
          sorter: (a, b) => a.open - b.open,
          render: (_, w) => amount(w.open, w.currency),
        },
        {
          title: t("When"),
          sorter: (a, b) => a.overdue - b.overdue,
          render: (_, w) => (
            <>
              {w.due} {w.overdue > 0 && <span className="mark bad">▲ {t("overdue")}</span>}
            </>
          ),
        },
        {
          title: t("Paid too much"),
          align: "right",
          className: "num",
          sorter: (a, b) => a.overpaid - b.overpaid,
          render: (_, w) => amount(w.overpaid, w.currency),
        },
        {
          title: t("Held as security"),
          align: "right",
          className: "num",
          sorter: (a, b) => a.held - b.held,
          render: (_, w) => amount(w.held, w.currency),
        },
      ]}
    />
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
  const figure = (title: string, of: (m: Schemas["MoneyMonth"]) => number, written = plain) => ({
    title,
    align: "right" as const,
    className: "num",
    sorter: (a: Schemas["MoneyMonth"], b: Schemas["MoneyMonth"]) => of(a) - of(b),
    render: (_: unknown, m: Schemas["MoneyMonth"]) => (of(m) === 0 ? "" : written(of(m), currency)),
  });
  return (
    <Rows
      rows={months}
      by={(m) => m.month}
      columns={[
        {
          title: t("Month"),
          rowScope: "row",
          sorter: (a, b) => a.month.localeCompare(b.month),
          render: (_, m) => monthName(m.month),
        },
        figure(t("Came in"), (m) => m.paid),
        figure(t("Went back"), (m) => m.returned),
        figure(t("Orders"), (m) => m.orders, String),
        figure(t("Ordered for"), (m) => m.charged),
        figure(t("Given freely"), (m) => m.given),
        figure(t("Off by coupons"), (m) => m.coupons),
        ...rates.map((r) =>
          figure(
            t("Tax {{percent}} %", { percent: r }),
            (m) => m.taxes.find((x) => x.percent === r)?.amount ?? 0,
          ),
        ),
      ]}
    />
  );
}
