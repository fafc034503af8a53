import { useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { away, day, money } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";
import { typing } from "../typing";
import { OrderDocket } from "./OrderDocket";

const pageSize = 100;

export function Orders() {
  const { t } = useTranslation();
  const { line } = useParams();
  const navigate = useNavigate();
  const [params, setParams] = useSearchParams();
  const [before, setBefore] = useState<number>();
  const [earlier, setEarlier] = useState<Schemas["OrderRow"][]>([]);
  const query = {
    product: params.has("product") ? Number(params.get("product")) : undefined,
    brief: (params.get("brief") ?? undefined) as Schemas["BriefState"] | undefined,
    work: (params.get("work") ?? undefined) as "open" | "done" | undefined,
    text: params.get("text") || undefined,
  };
  const filter = JSON.stringify(query);
  const orders = useQuery({
    queryKey: ["orders", filter, before],
    queryFn: () => take(api.GET("/api/desk/orders", { params: { query: { ...query, before } } })),
    placeholderData: (old) => old,
  });
  const products = useQuery({ queryKey: ["products"], queryFn: () => take(api.GET("/api/desk/products")) });
  // biome-ignore lint/correctness/useExhaustiveDependencies: another filter begins with the newest
  useEffect(() => {
    setBefore(undefined);
    setEarlier([]);
  }, [filter]);
  const rows = [...earlier, ...(orders.data ?? [])];
  const open = line ? Number(line) : rows[0]?.line;
  const set = (key: string, value: string | undefined) =>
    setParams((old) => {
      const next = new URLSearchParams(old);
      if (value) next.set(key, value);
      else next.delete(key);
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
    <main className="orders">
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
        </div>
        {rows.length > 0 && (
          <p className="small export">
            <a href={`/api/desk/orders.csv?${exported(query)}`} download>
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
        {rows.map((r) => (
          <Row
            key={r.line}
            row={r}
            on={r.line === open}
            open={() => navigate({ pathname: `/orders/${r.line}`, search: params.toString() })}
          />
        ))}
        {orders.data?.length === pageSize && (
          <Button
            type="link"
            onClick={() => {
              setEarlier(rows);
              setBefore(rows.at(-1)?.line);
            }}
          >
            {t("Show earlier ones")}
          </Button>
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

function Row({ row, on, open }: { row: Schemas["OrderRow"]; on: boolean; open: () => void }) {
  const { t } = useTranslation();
  const { today } = useHere();
  const [bookedDay, bookedTime] = row.booked?.split("T") ?? [];
  const when = bookedDay
    ? `${day(bookedDay, today)}, ${bookedTime}`
    : row.open === 0
      ? t("all done")
      : row.promised
        ? t("promised {{day}}, {{away}}", { day: day(row.promised, today), away: away(row.promised, today) })
        : t("no day promised yet");
  return (
    <button
      type="button"
      className={on ? "order-row on" : "order-row"}
      aria-current={on || undefined}
      onClick={open}
    >
      <b className="num">{row.number}</b>
      <span className="order-title">{row.title}</span>
      <span className="num">{money(row.total, row.currency)}</span>
      <span className="small quiet order-who">
        {row.customer} · {row.cancelled ? t("cancelled") : when}
        {row.due > 0 && ` · ${t("{{amount}} open", { amount: money(row.due, row.currency) })}`}
      </span>
      {row.cancelled ? (
        <span className="mark plain">■ {t("cancelled")}</span>
      ) : (
        <BriefMark brief={row.brief} missing={row.missing} />
      )}
    </button>
  );
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
