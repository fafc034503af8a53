import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useEffect, useMemo } from "react";
import { useTranslation } from "react-i18next";
import { Link, useNavigate, useParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { home } from "../../shared/home";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useAddress } from "../../shared/useAddress";
import { typing } from "../typing";
import { type Column, MoreColumns, useMoreColumns } from "./Columns";
import { Further, Saved, useSaved } from "./Filters";
import { OrderDocket } from "./OrderDocket";
import { OrderRows, type Sort } from "./OrderRows";

const none: Column[] = [];

type Work = "open" | "done" | "handed" | "unhanded" | undefined;

export function Orders() {
  const { t } = useTranslation();
  const { line } = useParams();
  const navigate = useNavigate();
  const [params, change, setParams] = useAddress();
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
  };
  const orders = useInfiniteQuery({
    queryKey: ["orders", filter, listing],
    queryFn: ({ pageParam }) =>
      take(api.GET("/api/desk/orders", { params: { query: { ...query, ...listing, page: pageParam } } })),
    initialPageParam: 1,
    getNextPageParam: (last, all) => (last.more ? all.length + 1 : undefined),
    placeholderData: (old) => old,
  });
  // What could not be had is asked for again by whoever sees that, not without end.
  const idle = orders.hasNextPage && !orders.isFetching && !orders.isFetchNextPageError;
  const products = useQuery({ queryKey: ["products"], queryFn: () => take(api.GET("/api/desk/products")) });
  const saved = useSaved();
  // Drawn at once, as what comes later would push away what somebody aims at.
  const ready = !orders.isPending && !products.isPending && !saved.isPending;
  const pages = useMemo(() => orders.data?.pages.map((p) => p.rows) ?? [], [orders.data]);
  const rows = useMemo(() => pages.flat(), [pages]);
  const [more, setMore] = useMoreColumns();
  // With more columns the list has the room of the docket, until an order is opened.
  const wide = more.length > 0 && line === undefined;
  const open = line ? Number(line) : wide ? undefined : rows[0]?.line;
  const set = (key: string, value: string | undefined) => change({ [key]: value });
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (typing(e) || (e.key !== "j" && e.key !== "k")) return;
      // The address is ahead of what is drawn while a key is held.
      const now = Number(/\/orders\/(\d+)/.exec(window.location.pathname)?.[1] ?? open);
      const at = rows.findIndex((r) => r.line === now);
      const next = rows[at + (e.key === "j" ? 1 : -1)];
      if (next) navigate({ pathname: `/orders/${next.line}`, search: params.toString() });
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  });
  return (
    <main className={wide ? "orders wide" : "orders"}>
      <div className="order-list">
        {ready && (
          <>
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
            <Trouble error={lost(orders)} again={() => orders.refetch()} />
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
              <OrderRows
                key={filter + JSON.stringify(listing)}
                pages={pages}
                next={idle ? orders.fetchNextPage : undefined}
                listing={listing}
                open={open}
                more={wide ? more : none}
              />
            )}
          </>
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
