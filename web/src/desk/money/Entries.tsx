import { useInfiniteQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, money, plain } from "../../shared/format";
import { home } from "../../shared/home";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { type Part, useAddress } from "../../shared/useAddress";
import { useHere } from "../here";
import { useWayNames } from "../orders/MoneyDialogs";
import { Rows } from "../Rows";
import { MoneyTabs } from "../Tabs";

type Entry = Schemas["MoneyEntry"];

// What a figure of the money page is made of, in the address.
const filters = ["from", "to", "kind", "way", "figure", "percent", "currency"] as const;

function useKinds() {
  const { t } = useTranslation();
  return {
    kinds: {
      charged: t("charged"),
      paid: t("paid"),
      held: t("held as security"),
      released: t("security given back"),
      returned: t("given back"),
      fee: t("kept by the payment service"),
    } as Record<string, string>,
    figures: {
      ordered: t("what was ordered"),
      given: t("given freely"),
      by_coupons: t("taken off by coupons"),
      vouchers: t("vouchers sold"),
      by_voucher: t("paid with vouchers"),
      tax: t("tax"),
    } as Record<string, string>,
  };
}

// Entries lists the entries of all ledgers, or those that a figure adds up, with
// what they come to.
export function Entries() {
  const { t } = useTranslation();
  const { today } = useHere();
  const { kinds, figures } = useKinds();
  const ways = useWayNames();
  const [params, change] = useAddress();
  const set = (part: Part) => change(part, true);
  const query = Object.fromEntries(filters.map((f) => [f, params.get(f) ?? undefined]));
  const list = useInfiniteQuery({
    queryKey: ["money", "entries", query],
    queryFn: ({ pageParam }) =>
      take(api.GET("/api/desk/money/entries", { params: { query: { ...query, before: pageParam } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => last.more,
    placeholderData: (old) => old,
  });
  const first = list.data?.pages[0];
  const rows = list.data?.pages.flatMap((p) => p.entries) ?? [];
  const chosen = query.figure ? `figure ${query.figure}` : `kind ${query.kind ?? ""}`;
  const exported = new URLSearchParams(
    Object.entries({ from: query.from, to: query.to, kind: query.kind, way: query.way }).filter(
      (e): e is [string, string] => e[1] !== undefined,
    ),
  );
  const named = (e: Entry) =>
    query.figure === "tax" ? `${figures.tax} ${e.reason} %` : (figures[e.kind] ?? kinds[e.kind] ?? e.kind);
  return (
    <main className="desk-page">
      <h1>{t("Money")}</h1>
      <MoneyTabs />
      <div className="row entry-filters">
        <Input
          type="date"
          aria-label={t("From day")}
          value={query.from ?? ""}
          onChange={(e) => set({ from: e.target.value })}
        />
        <Input
          type="date"
          aria-label={t("To day")}
          value={query.to ?? ""}
          onChange={(e) => set({ to: e.target.value })}
        />
        <Select
          aria-label={t("What")}
          value={chosen}
          onChange={(v) => {
            const [what = "", value = ""] = v.split(" ");
            set({ kind: undefined, figure: undefined, percent: undefined, [what]: value });
          }}
          options={[
            { value: "kind ", label: t("all entries") },
            ...Object.entries(kinds).map(([k, label]) => ({ value: `kind ${k}`, label })),
            ...Object.entries(figures).map(([k, label]) => ({ value: `figure ${k}`, label })),
          ]}
        />
        {!query.figure && (
          <Select
            aria-label={t("By which way")}
            value={query.way ?? ""}
            onChange={(way) => set({ way })}
            options={[
              { value: "", label: t("any way") },
              { value: "money", label: t("any but vouchers") },
              ...Object.entries(ways).map(([value, label]) => ({ value, label })),
            ]}
          />
        )}
        {!query.figure && (
          <a href={`${home}/api/desk/money/entries.csv?${exported}`} download>
            {t("Save these as CSV")}
          </a>
        )}
      </div>
      <Trouble error={lost(list)} />
      {first && (
        <p role="status">
          {t("{{count}} entries come to {{amount}}", {
            count: first.count,
            amount: money(first.amount, first.currency),
          })}
          {query.figure === "tax" && t(", of {{net}} without tax", { net: money(first.net, first.currency) })}
        </p>
      )}
      {first && rows.length === 0 && <div className="empty">{t("There are no such entries.")}</div>}
      {first && rows.length > 0 && (
        <Rows
          rows={rows}
          by={(e) => e.id}
          columns={[
            { title: t("Day"), render: (_, e) => day(e.day, today) },
            {
              title: t("Order"),
              rowScope: "row",
              render: (_, e) => (e.number ? <Link to={`/orders/${e.line}`}>{e.number}</Link> : ""),
            },
            { title: t("Customer"), dataIndex: "customer" },
            { title: t("What"), render: (_, e) => named(e) },
            {
              title: t("How"),
              render: (_, e) => ways[e.way] ?? "",
            },
            { title: t("Note"), render: (_, e) => [e.by, e.note].filter(Boolean).join(" · ") },
            {
              title: t("Amount"),
              align: "right",
              className: "num",
              render: (_, e) => plain(e.amount, first.currency),
            },
          ]}
        />
      )}
      {list.hasNextPage && (
        <Button type="link" loading={list.isFetchingNextPage} onClick={() => list.fetchNextPage()}>
          {t("Show more")}
        </Button>
      )}
    </main>
  );
}
