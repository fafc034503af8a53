import { useQuery } from "@tanstack/react-query";
import { Segmented } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, local, money, plain, span } from "../../shared/format";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useAddress } from "../../shared/useAddress";
import { useHere } from "../here";
import { Rows } from "../Rows";
import { MoneyTabs } from "../Tabs";
import { EarningPlot } from "./EarningPlot";
import "./earnings.css";

type By = "product" | "extra" | "choice" | "step" | "customer";
type Row = Schemas["EarningRow"];

// Earnings tells what an hour of work earns: by product, extra, choice, step and
// customer. Each row leads to its orders.
export function Earnings() {
  const { t } = useTranslation();
  const { today } = useHere();
  const [params, set] = useAddress();
  const by = (params.get("by") ?? "product") as By;
  const query = {
    by,
    from: params.get("from") ?? undefined,
    to: params.get("to") ?? undefined,
    currency: params.get("currency") ?? undefined,
  };
  const key = params.get("key") ?? undefined;
  const view = useQuery({
    queryKey: ["earnings", query],
    queryFn: () => take(api.GET("/api/desk/earnings", { params: { query } })),
    placeholderData: (old) => old,
  });
  const v = view.data;
  const ways: Record<By, string> = {
    product: t("Products"),
    extra: t("Extras"),
    choice: t("Choices"),
    step: t("Steps"),
    customer: t("Customers"),
  };
  const told: Record<By, string> = {
    product: t("All of what was sold of a product, and all of the work on it."),
    extra: t(
      "What an answer adds to the price, alone, with the minutes that it adds to the work by the plan.",
    ),
    choice: t("All orders with that choice, whole."),
    step: t("What is left of an order, shared among its steps by their minutes."),
    customer: t("All orders of a customer."),
  };
  return (
    <main className="desk-page wide">
      <h1>{t("Money")}</h1>
      <MoneyTabs />
      <div className="row">
        <Segmented
          aria-label={t("What it earned, by")}
          value={by}
          onChange={(next) => set({ by: next === "product" ? undefined : next, key: undefined })}
          options={(Object.keys(ways) as By[]).map((value) => ({ value, label: ways[value] }))}
        />
        <span className="grow" />
        <label className="row small">
          {t("from")}
          <input
            type="date"
            className="plain-field"
            value={query.from ?? v?.from ?? ""}
            max={today}
            onChange={(e) => set({ from: e.target.value || undefined })}
          />
        </label>
        <label className="row small">
          {t("to")}
          <input
            type="date"
            className="plain-field"
            value={query.to ?? v?.to ?? ""}
            onChange={(e) => set({ to: e.target.value || undefined })}
          />
        </label>
        {v && v.currencies.length > 1 && (
          <Segmented
            aria-label={t("In which currency")}
            value={v.currency}
            onChange={(c) => set({ currency: c === v.currencies[0] ? undefined : c })}
            options={v.currencies}
          />
        )}
      </div>
      <Trouble error={lost(view)} />
      {view.isFetching && <p role="status">{t("The orders are being added up …")}</p>}
      {v?.newest && (
        <div className="notice attention">
          {t("These are the newest {{count}} orders of that time.", { count: v.newest })}
        </div>
      )}
      {v && (
        <>
          <p className="small quiet">
            {told[by]}{" "}
            {t("Income is without tax. Minutes are as measured, or as planned where nobody measured.")}
          </p>
          {v.rows.length === 0 ? (
            <div className="empty">{t("Nothing was ordered in that time.")}</div>
          ) : (
            <div className="earnings-columns">
              <Table rows={v.rows} total={v.total} currency={v.currency} by={by} open={key} set={set} />
              <EarningPlot rows={v.rows} currency={v.currency} open={(k) => set({ key: k })} />
            </div>
          )}
          {key && <OrdersOf query={query} k={key} close={() => set({ key: undefined })} />}
        </>
      )}
    </main>
  );
}

type TableProps = {
  rows: Row[];
  total: Row;
  currency: string;
  by: By;
  open?: string;
  set: (part: Record<string, string | undefined>) => void;
};

function Table({ rows, total, currency, by, open, set }: TableProps) {
  const { t } = useTranslation();
  const num = (title: string, of: (r: Row) => number | undefined) => ({
    title,
    align: "right" as const,
    className: "num",
    sorter: (a: Row, b: Row) => (of(a) ?? 0) - (of(b) ?? 0),
    render: (_: unknown, r: Row) => {
      const n = of(r);
      return n === undefined ? "–" : plain(n, currency);
    },
  });
  return (
    <div className="earnings">
      <p className="num">
        {t("{{left}} left of {{income}}, for {{time}} of work on {{count}} orders", {
          left: money(total.left, currency),
          income: money(total.income, currency),
          time: span(total.minutes),
          count: total.orders,
        })}
        {total.per_hour !== undefined &&
          ` · ${t("{{amount}} an hour", { amount: money(total.per_hour, currency) })}`}
      </p>
      <Rows
        rows={rows}
        by={(r) => r.key}
        rowClassName={(r) => (r.key === open ? "on leads" : "leads")}
        onRow={(r) => ({ onClick: () => set({ key: r.key }) })}
        columns={[
          {
            title: t("What"),
            render: (_, r) => (
              <>
                <button type="button" className="linkish" onClick={() => set({ key: r.key })}>
                  {r.label}
                </button>
                {r.of && by !== "product" && <div className="small quiet">{r.of}</div>}
              </>
            ),
          },
          {
            title: t("Orders"),
            align: "right",
            className: "num",
            sorter: (a, b) => a.orders - b.orders,
            render: (_, r) => r.orders,
          },
          num(t("Income"), (r) => r.income),
          num(t("Fees"), (r) => r.fees),
          num(t("Cost"), (r) => r.cost),
          num(t("Left"), (r) => r.left),
          {
            title: t("Time"),
            align: "right",
            className: "num",
            sorter: (a, b) => a.minutes - b.minutes,
            render: (_, r) => (
              <span title={t("{{time}} of it measured", { time: span(r.measured) })}>{span(r.minutes)}</span>
            ),
          },
          num(t("An hour"), (r) => r.per_hour),
        ]}
      />
    </div>
  );
}

// OrdersOf lists the orders that a row adds up.
function OrdersOf({
  query,
  k,
  close,
}: {
  query: { by: By; from?: string; to?: string; currency?: string };
  k: string;
  close: () => void;
}) {
  const { t } = useTranslation();
  const { today, session } = useHere();
  const view = useQuery({
    queryKey: ["earnings", query, k],
    queryFn: () => take(api.GET("/api/desk/earnings", { params: { query: { ...query, key: k } } })),
  });
  const v = view.data;
  if (!v) return <Trouble error={view.error} />;
  const lines = v.lines ?? [];
  const n = (of: (l: Schemas["EarningLine"]) => number | undefined, title: string) => ({
    title,
    align: "right" as const,
    className: "num",
    sorter: (a: Schemas["EarningLine"], b: Schemas["EarningLine"]) => (of(a) ?? 0) - (of(b) ?? 0),
    render: (_: unknown, l: Schemas["EarningLine"]) => {
      const a = of(l);
      return a === undefined ? "–" : plain(a, v.currency);
    },
  });
  return (
    <section className="sheet earning-orders">
      <div className="row">
        <h2 className="grow">{t("Orders of {{what}}", { what: v.rows[0]?.label ?? "" })}</h2>
        <button type="button" className="linkish" onClick={close}>
          {t("Close")}
        </button>
      </div>
      <Rows
        rows={lines}
        by={(l) => l.line}
        columns={[
          {
            title: t("Order"),
            render: (_, l) => (
              <Link to={`/orders/${l.line}`} className="num">
                {l.number}
              </Link>
            ),
          },
          { title: t("Customer"), render: (_, l) => l.customer },
          { title: t("Product"), render: (_, l) => l.title },
          { title: t("Ordered"), render: (_, l) => day(local(l.placed, session.zone).day, today) },
          n((l) => l.income, t("Income")),
          n((l) => l.left, t("Left")),
          {
            title: t("Time"),
            align: "right",
            className: "num",
            sorter: (a, b) => a.minutes - b.minutes,
            render: (_, l) => span(l.minutes),
          },
          n((l) => l.per_hour, t("An hour")),
        ]}
      />
    </section>
  );
}
