import { useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useEffect } from "react";
import { useTranslation } from "react-i18next";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { away, day, money } from "../../shared/format";
import { home } from "../../shared/home";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";
import { Rows } from "../Rows";
import { typing } from "../typing";
import { type Column, MoreColumns, useColumns, useMoreColumns } from "./Columns";
import { Further, Saved } from "./Filters";
import { OrderDocket } from "./OrderDocket";

type Sort = "customer" | "promised";

type Work = "open" | "done" | "handed" | "unhanded" | undefined;

export function Orders() {
  const { t } = useTranslation();
  const { line } = useParams();
  const navigate = useNavigate();
  const [params, setParams] = useSearchParams();
  const query = {
    product: params.has("product") ? Number(params.get("product")) : undefined,
    brief: (params.get("brief") ?? undefined) as Schemas["BriefState"] | undefined,
    work: (params.get("work") ?? undefined) as Work,
    text: params.get("text") || undefined,
    new: params.has("new") || undefined,
    money: (params.get("money") ?? undefined) as "open" | "settled" | undefined,
    from: params.get("from") || undefined,
    to: params.get("to") || undefined,
    customer: params.get("customer") || undefined,
    answers: params.get("answers") || undefined,
  };
  const filter = JSON.stringify(query);
  const listing = {
    sort: (params.get("sort") ?? undefined) as Sort | undefined,
    turned: params.has("turned") || undefined,
    page: Number(params.get("page") ?? 1),
  };
  const orders = useQuery({
    queryKey: ["orders", filter, listing],
    queryFn: () => take(api.GET("/api/desk/orders", { params: { query: { ...query, ...listing } } })),
    placeholderData: (old) => old,
  });
  const products = useQuery({ queryKey: ["products"], queryFn: () => take(api.GET("/api/desk/products")) });
  const rows = orders.data?.rows ?? [];
  const [more, setMore] = useMoreColumns();
  // With more columns the list has the room of the docket, until an order is opened.
  const wide = more.length > 0 && line === undefined;
  const open = line ? Number(line) : wide ? undefined : rows[0]?.line;
  const set = (key: string, value: string | undefined) =>
    setParams((old) => {
      const next = new URLSearchParams(old);
      if (value) next.set(key, value);
      else next.delete(key);
      next.delete("page"); // another filter begins at the beginning
      return next;
    });
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (typing(e) || (e.key !== "j" && e.key !== "k")) return;
      const at = rows.findIndex((r) => r.line === open);
      const next = rows[at + (e.key === "j" ? 1 : -1)];
      if (next) navigate({ pathname: `/orders/${next.line}`, search: params.toString() });
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  });
  return (
    <main className={wide ? "orders wide" : "orders"}>
      <div className="order-list">
        <div className="filters">
          <Select
            aria-label={t("Product")}
            value={query.product ?? 0}
            onChange={(v) => set("product", v ? String(v) : undefined)}
            options={[
              { value: 0, label: t("all products") },
              ...(products.data ?? []).map((p) => ({ value: p.id, label: p.title })),
            ]}
          />
          <Select
            aria-label={t("Brief")}
            value={query.brief ?? ""}
            onChange={(v) => set("brief", v)}
            options={[
              { value: "", label: t("any brief") },
              { value: "waiting", label: t("waiting") },
              { value: "complete", label: t("complete") },
              { value: "changed", label: t("changed") },
              { value: "closed", label: t("closed") },
            ]}
          />
          <Select
            aria-label={t("Work")}
            value={query.work ?? ""}
            onChange={(v) => set("work", v)}
            options={[
              { value: "", label: t("any work") },
              { value: "open", label: t("work to do") },
              { value: "done", label: t("all done") },
              { value: "unhanded", label: t("not handed over") },
              { value: "handed", label: t("handed over") },
            ]}
          />
          {query.text !== undefined && (
            <Input
              aria-label={t("Text")}
              defaultValue={query.text}
              key={query.text}
              allowClear
              onChange={(e) => e.target.value === "" && set("text", undefined)}
              onPressEnter={(e) => set("text", e.currentTarget.value)}
            />
          )}
          <Further query={query} set={set} />
        </div>
        <Saved params={params} setParams={setParams} />
        <p className="small export">
          <Link to="/orders/customers">{t("Customers")}</Link>
          {query.product !== undefined && (
            <>
              {" · "}
              <Link to={`/products/${query.product}/answers`}>{t("All answers of it")}</Link>
            </>
          )}
        </p>
        <MoreColumns chosen={more} choose={setMore} />
        {rows.length > 0 && (
          <p className="small export">
            <a href={`${home}/api/desk/orders.csv?${exported(query)}`} download>
              {t("Save these as CSV")}
            </a>
          </p>
        )}
        {orders.error && <Trouble error={orders.error} again={() => orders.refetch()} />}
        {orders.data && rows.length === 0 && (
          <div className="empty">
            {filter === "{}"
              ? t("Orders will be here once somebody buys.")
              : t("No order fits these filters.")}
            {filter !== "{}" && (
              <div>
                <Button type="link" onClick={() => setParams({})}>
                  {t("Show all")}
                </Button>
              </div>
            )}
          </div>
        )}
        {orders.data && rows.length > 0 && (
          <OrderRows list={orders.data} listing={listing} open={open} more={wide ? more : []} />
        )}
      </div>
      <div className="order-open">{open !== undefined && <OrderDocket line={open} />}</div>
    </main>
  );
}

// exported names the filters for the export.
function exported(query: object) {
  const all = Object.entries(query).filter(([k, v]) => v !== undefined && k !== "before");
  return new URLSearchParams(all.map(([k, v]) => [k, String(v)])).toString();
}

type ListProps = {
  list: Schemas["OrderList"];
  listing: { sort?: Sort; turned?: boolean; page: number };
  open: number | undefined;
  more: Column[];
};

// OrderRows is a page of the orders. What it is sorted by and which page it is
// stand in the address, so that going back goes back.
function OrderRows({ list, listing, open, more }: ListProps) {
  const { t } = useTranslation();
  const { today } = useHere();
  const navigate = useNavigate();
  const [params, setParams] = useSearchParams();
  const columns = useColumns();
  const { sort, turned, page } = listing;
  const to = (row: Schemas["OrderRow"]) => ({ pathname: `/orders/${row.line}`, search: params.toString() });
  // What is newest first without being asked is turned by rising numbers.
  const order = (column: string) =>
    column !== (sort ?? "number")
      ? null
      : column === "number"
        ? turned
          ? ("ascend" as const)
          : null
        : turned
          ? ("descend" as const)
          : ("ascend" as const);
  return (
    <Rows
      rows={list.rows}
      by={(r) => r.line}
      rowClassName={(r) => (r.line === open ? "order-row on" : "order-row")}
      onRow={(r) => ({ onClick: () => navigate(to(r)), "aria-current": r.line === open || undefined })}
      pagination={{
        current: page,
        pageSize: list.page_size,
        // As far as is known: the page after this one, if there is one.
        total: (page - 1) * list.page_size + list.rows.length + (list.more ? 1 : 0),
        hideOnSinglePage: true,
        showSizeChanger: false,
        simple: true,
      }}
      onChange={(pages, _, sorter) =>
        setParams((old) => {
          const next = new URLSearchParams(old);
          for (const key of ["sort", "turned", "page"]) next.delete(key);
          const by = Array.isArray(sorter) ? undefined : sorter;
          if (by?.order && by.columnKey !== "number") next.set("sort", String(by.columnKey));
          if (by?.order === (by?.columnKey === "number" ? "ascend" : "descend")) next.set("turned", "1");
          // Sorted anew it begins at the beginning.
          const same = next.get("sort") === old.get("sort") && next.get("turned") === old.get("turned");
          if (same && (pages.current ?? 1) > 1) next.set("page", String(pages.current));
          return next;
        })
      }
      columns={[
        {
          key: "number",
          title: t("Order"),
          rowScope: "row",
          className: "num",
          sorter: true,
          sortOrder: order("number"),
          render: (_, r) => (
            <Link to={to(r)} onClick={(e) => e.stopPropagation()}>
              {r.number}
            </Link>
          ),
        },
        {
          key: "customer",
          title: t("Customer"),
          sorter: true,
          sortOrder: order("customer"),
          render: (_, r) => (
            <>
              <div>
                {r.customer} {r.new && <span className="mark attention">★ {t("new")}</span>}
              </div>
              <div className="small quiet">
                {r.title} · <span className="num nowrap">{money(r.total, r.currency)}</span>
                {r.due > 0 && ` · ${t("{{amount}} open", { amount: money(r.due, r.currency) })}`}
              </div>
            </>
          ),
        },
        {
          key: "promised",
          width: 160,
          title: t("Brief, promised"),
          sorter: true,
          sortOrder: order("promised"),
          render: (_, r) => (
            <>
              {r.state === "awaiting" ? (
                <span className="mark attention">◔ {t("waits for its transfer")}</span>
              ) : r.state === "lapsed" ? (
                <span className="mark plain">□ {t("given free")}</span>
              ) : r.cancelled ? (
                <span className="mark plain">■ {t("cancelled")}</span>
              ) : (
                <BriefMark brief={r.brief} missing={r.missing} />
              )}
              {r.state === "placed" && !r.cancelled && (
                <div className="small quiet">
                  <When row={r} today={today} />
                </div>
              )}
            </>
          ),
        },
        ...columns.filter((c) => more.includes(c.key as Column)),
      ]}
    />
  );
}

// When says when the order is due: on the booked day, or on the promised one.
function When({ row, today }: { row: Schemas["OrderRow"]; today: string }) {
  const { t } = useTranslation();
  const [bookedDay, bookedTime] = row.booked?.split("T") ?? [];
  if (bookedDay) return `${day(bookedDay, today)}, ${bookedTime}`;
  if (row.changes) return t("changes asked for");
  if (row.handed) return t("handed over");
  if (row.open === 0) return t("all done");
  if (!row.promised) return t("no day promised yet");
  return `${day(row.promised, today)}, ${away(row.promised, today)}`;
}

export function BriefMark({ brief, missing }: { brief: Schemas["BriefState"]; missing?: number }) {
  const { t } = useTranslation();
  switch (brief) {
    case "waiting":
      return (
        <span className="mark bad">
          ○ {missing ? t("{{count}} missing", { count: missing }) : t("waiting")}
        </span>
      );
    case "changed":
      return <span className="mark attention">▲ {t("changed")}</span>;
    case "closed":
      return <span className="mark plain">■ {t("closed")}</span>;
    default:
      return <span className="mark good">● {t("complete")}</span>;
  }
}
