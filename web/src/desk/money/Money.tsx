import { useInfiniteQuery } from "@tanstack/react-query";
import { Button, Segmented } from "antd";
import i18next from "i18next";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, money, plain } from "../../shared/format";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useAddress } from "../../shared/useAddress";
import { useHere } from "../here";
import { useWayNames } from "../orders/MoneyDialogs";
import { Rows } from "../Rows";
import { MoneyTabs } from "../Tabs";

type Period = Schemas["MoneyPeriod"];
type By = Schemas["MoneyView"]["by"];

// usePeriodName names a day, a week or a month.
function usePeriodName() {
  const { t } = useTranslation();
  const { today } = useHere();
  return (p: Period, by: By) => {
    if (by === "day") return day(p.from, today);
    if (by === "week")
      return t("week {{week}}, {{year}}", { week: p.period.slice(6), year: p.period.slice(0, 4) });
    return new Intl.DateTimeFormat(i18next.language === "en" ? "en-GB" : i18next.language, {
      month: "short",
      year: "numeric",
      timeZone: "UTC",
    }).format(new Date(`${p.period}-15T12:00:00Z`));
  };
}

// door leads to the entries that a figure of a period adds up.
const door = (p: { from: string; to: string }, currency: string, what: Record<string, string>) =>
  `/money/entries?${new URLSearchParams({ from: p.from, to: p.to, currency, ...what })}`;

// Money shows what is open, due and held by now; what came in and went back by
// day, week or month, by which ways, with what was ordered, what customers gave
// by their own choice, what coupons took off and the tax in it. Each figure
// leads to the entries that it adds up.
export function Money() {
  const { t } = useTranslation();
  const [params, set] = useAddress();
  const by = params.get("by") ?? "month";
  const currency = params.get("currency") ?? undefined;
  const view = useInfiniteQuery({
    queryKey: ["money", by, currency],
    queryFn: ({ pageParam }) =>
      take(api.GET("/api/desk/money", { params: { query: { after: pageParam, by, currency } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => last.more,
    placeholderData: (old) => old,
  });
  if (lost(view)) return <Trouble error={view.error} again={() => view.refetch()} />;
  const v = view.data?.pages[0];
  const waiting = view.data?.pages.flatMap((p) => p.waiting) ?? [];
  const some = v?.periods.some((p) => p.paid || p.returned || p.orders || p.held || p.charged);
  return (
    <main className="desk-page">
      <h1>{t("Money")}</h1>
      <MoneyTabs />
      {v && (
        <>
          <Now now={v.now} currency={v.currency} />
          <section>
            <div className="row">
              <h2 className="grow">{t("What came in, in {{currency}}", { currency: v.currency })}</h2>
              {v.currencies.length > 1 && (
                <Segmented
                  aria-label={t("In which currency")}
                  value={v.currency}
                  onChange={(c) => set({ currency: c === v.currencies[0] ? undefined : c })}
                  options={v.currencies}
                />
              )}
              <Segmented
                aria-label={t("By day, week or month")}
                value={by}
                onChange={(next) => set({ by: next === "month" ? undefined : next })}
                options={[
                  { value: "day", label: t("by day") },
                  { value: "week", label: t("by week") },
                  { value: "month", label: t("by month") },
                ]}
              />
            </div>
            {some ? (
              <>
                <Bars periods={v.periods} by={v.by} currency={v.currency} />
                <Periods periods={v.periods} by={v.by} currency={v.currency} />
              </>
            ) : (
              <div className="empty">{t("What comes in will be here.")}</div>
            )}
          </section>
          <section id="waiting">
            <h2>{t("Waits to be settled")}</h2>
            <Waiting rows={waiting} />
            {view.hasNextPage && (
              <Button type="link" loading={view.isFetchingNextPage} onClick={() => view.fetchNextPage()}>
                {t("Show more")}
              </Button>
            )}
          </section>
        </>
      )}
    </main>
  );
}

// Now says what is open, due, overdue, held and to be returned by now.
function Now({ now, currency }: { now: Schemas["MoneyNow"]; currency: string }) {
  const { t } = useTranslation();
  const figures: { name: string; amount: number; bad?: boolean; to?: string }[] = [
    { name: t("Still to be paid"), amount: now.open },
    { name: t("of it due by now"), amount: now.due },
    ...(now.awaiting > 0
      ? [{ name: t("of it by orders that wait"), amount: now.awaiting, to: "/money/transfers" }]
      : []),
    { name: t("of it overdue"), amount: now.overdue, bad: now.overdue > 0 },
    { name: t("Held as security"), amount: now.held },
    { name: t("To be returned"), amount: now.overpaid },
  ];
  return (
    <dl className="money-now">
      {figures.map((f) => (
        <div key={f.name}>
          <dt className="small quiet">{f.name}</dt>
          <dd className={f.bad ? "num mark bad" : "num"}>
            {f.bad && "▲ "}
            {f.amount === 0 ? (
              money(0, currency)
            ) : f.to ? (
              <Link to={f.to}>{money(f.amount, currency)}</Link>
            ) : (
              <a href="#waiting">{money(f.amount, currency)}</a>
            )}
          </dd>
        </div>
      ))}
    </dl>
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
              {w.due} {w.awaiting && <span className="mark attention">◔ {t("waits for its transfer")}</span>}
              {w.overdue > 0 && <span className="mark bad">▲ {t("overdue")}</span>}
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

type ListProps = { periods: Period[]; by: By; currency: string };

// Bars draws the periods, the oldest first: what came in, and of it what went
// back.
function Bars({ periods, by, currency }: ListProps) {
  const { t } = useTranslation();
  const name = usePeriodName();
  const list = periods.toReversed();
  const most = Math.max(...list.map((p) => p.paid), 1);
  const crowded = list.length > 14;
  return (
    <div
      className={crowded ? "money-bars crowded" : "money-bars"}
      role="img"
      aria-label={t("What came in: {{periods}}", {
        periods: list
          .filter((p) => p.paid > 0)
          .map((p) => `${name(p, by)} ${money(p.paid, currency)}`)
          .join(", "),
      })}
    >
      {list.map((p) => (
        <div key={p.period} title={`${name(p, by)}: ${plain(p.paid, currency)}`}>
          {!crowded && <span className="num small">{p.paid > 0 && plain(p.paid, currency)}</span>}
          <svg viewBox="0 0 40 100" preserveAspectRatio="none" aria-hidden="true">
            <rect
              className="bar"
              x="0"
              width="40"
              y={100 - (96 * p.paid) / most}
              height={(96 * p.paid) / most}
            />
            <rect
              className="bar-given"
              x="0"
              width="40"
              y={100 - (96 * p.returned) / most}
              height={(96 * p.returned) / most}
            />
          </svg>
          {!crowded && <span className="small quiet">{name(p, by)}</span>}
        </div>
      ))}
      <p className="small quiet money-key">
        <i className="bar-given" /> {t("given back")}
      </p>
    </div>
  );
}

function Periods({ periods, by, currency }: ListProps) {
  const { t } = useTranslation();
  const name = usePeriodName();
  const ways = useWayNames();
  const rates = [
    ...new Set(periods.flatMap((p) => p.taxes.filter((x) => x.amount !== 0).map((x) => x.percent))),
  ].sort((a, b) => Number(b) - Number(a));
  const used = [...new Set(periods.flatMap((p) => p.ways.map((w) => w.way)))].filter((w) => w !== "");
  const rows = periods.filter(
    (p) => p.paid || p.returned || p.orders || p.charged || p.held || p.released || p.fees,
  );
  const figure = (
    title: string,
    of: (p: Period) => number,
    what: Record<string, string>,
    written = plain,
  ) => ({
    title,
    align: "right" as const,
    className: "num",
    sorter: (a: Period, b: Period) => of(a) - of(b),
    render: (_: unknown, p: Period) =>
      of(p) === 0 ? "" : <Link to={door(p, currency, what)}>{written(of(p), currency)}</Link>,
  });
  return (
    <Rows
      rows={rows}
      by={(p) => p.period}
      columns={[
        {
          title: by === "day" ? t("Day") : by === "week" ? t("Week") : t("Month"),
          rowScope: "row",
          className: "unbroken",
          sorter: (a, b) => a.period.localeCompare(b.period),
          render: (_, p) => name(p, by),
        },
        figure(t("Came in"), (p) => p.paid, { kind: "paid", way: "money" }),
        ...(used.length > 1
          ? used.map((w) =>
              figure(ways[w] ?? w, (p) => p.ways.find((x) => x.way === w)?.paid ?? 0, {
                kind: "paid",
                way: w,
              }),
            )
          : []),
        figure(t("Went back"), (p) => p.returned, { kind: "returned", way: "money" }),
        figure(t("Fees"), (p) => p.fees, { kind: "fee" }),
        figure(t("Orders"), (p) => p.orders, { figure: "ordered" }, String),
        figure(t("Ordered for"), (p) => p.charged, { figure: "ordered" }),
        figure(t("Given freely"), (p) => p.given, { figure: "given" }),
        figure(t("Off by coupons"), (p) => p.coupons, { figure: "by_coupons" }),
        ...(periods.some((p) => p.vouchers !== 0)
          ? [figure(t("Vouchers sold"), (p) => p.vouchers, { figure: "vouchers" })]
          : []),
        ...rates.map((r) =>
          figure(
            t("Tax {{percent}} %", { percent: r }),
            (p) => p.taxes.find((x) => x.percent === r)?.amount ?? 0,
            { figure: "tax", percent: r },
          ),
        ),
      ]}
    />
  );
}
