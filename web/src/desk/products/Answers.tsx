import { useQuery } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, local } from "../../shared/format";
import { home } from "../../shared/home";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useAddress } from "../../shared/useAddress";
import { useHere } from "../here";
import { Rows } from "../Rows";
import { Counts, Numbers } from "./AnswerPlots";
import { Cell, OneByOne } from "./OneByOne";

type Row = Schemas["AnswerRow"];
type Sorting = Schemas["AnswerSorting"];

// While answers of earlier orders are still being counted, it is looked again, in ms.
const looksAgain = 2_000;

// pause is how long a text stands before it is searched, in ms.
const pause = 250;

// useSearched is what is typed to be searched for: it goes into the address once the typing
// pauses, and is what stands there when somebody goes back.
function useSearched(stands: string, search: (text: string) => void) {
  const [typed, setTyped] = useState(stands);
  const sent = useRef(stands);
  useEffect(() => {
    if (stands === sent.current) return;
    sent.current = stands;
    setTyped(stands);
  }, [stands]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: searched once the typing pauses
  useEffect(() => {
    const text = typed.trim();
    if (text === sent.current) return;
    const later = setTimeout(() => {
      sent.current = text;
      search(text);
    }, pause);
    return () => clearTimeout(later);
  }, [typed]);
  return [typed, setTyped] as const;
}

// Answers shows all answers of a product, or to the questions of a sheet in all products
// that use it: an order a row, a question a column, one by one, and what all of them come
// to. What is shown of them, and in what order, stands in the address.
export function Answers({ of }: { of: "product" | "sheet" }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const { id } = useParams();
  const [params, set] = useAddress();
  const [at, setAt] = useState<number>();
  const query = {
    page: Math.max(Number(params.get("page")) || 1, 1),
    text: params.get("text") || undefined,
    question: params.get("question") || undefined,
    what: params.get("what") || undefined,
    sort: (params.get("sort") ?? undefined) as Sorting | undefined,
    by: params.get("by") || undefined,
    turned: params.has("turned") || undefined,
  };
  const table = useQuery({
    queryKey: ["answers", of, id, query],
    placeholderData: (old) => old,
    queryFn: () => {
      const asked = { params: { path: { id: Number(id) }, query } };
      return of === "sheet"
        ? take(api.GET("/api/desk/sheets/{id}/answers", asked))
        : take(api.GET("/api/desk/products/{id}/answers", asked));
    },
    refetchInterval: (q) => (q.state.data?.unread ? looksAgain : false),
  });
  const [typed, setTyped] = useSearched(query.text ?? "", (text) => set({ text }, true));
  const v = table.data;
  const before = (v?.from ?? 1) - 1;
  const turn = (page: number) => set({ page: page > 1 ? String(page) : undefined });
  const current = v && !table.isPlaceholderData;
  // Whoever goes through the orders one by one comes to the page before, or to the next.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each order and page
  useEffect(() => {
    if (at === undefined || !current) return;
    if (at < before) turn(query.page - 1);
    else if (v.more && at >= before + v.rows.length) turn(query.page + 1);
  }, [at, current, before]);
  if (lost(table)) return <Trouble error={table.error} again={() => table.refetch()} />;
  if (!v) return null;
  // Without anything else asked for, the newest come first.
  const age = query.sort ? null : query.turned ? ("ascend" as const) : ("descend" as const);
  const sorted = (key: Sorting, by?: string) =>
    query.sort === key && query.by === by
      ? query.turned
        ? ("descend" as const)
        : ("ascend" as const)
      : null;
  const told = v.columns.filter((c) => c.counts || c.numbers);
  const only = told.find((c) => c.key === query.question)?.counts?.find((c) => c.code === query.what);
  const nothing = v.all === 0 && !query.text && !query.what;
  return (
    <main className="desk-page wide">
      <div className="row">
        <h1 className="grow">{t("Answers: {{what}}", { what: v.title })}</h1>
        {of === "sheet" ? (
          <Link to={`/sheets/${id}`}>{t("The sheet")}</Link>
        ) : (
          <>
            <Link to={`/products/${id}`}>{t("The product")}</Link>
            <a href={`${home}/api/desk/orders.csv?product=${id}`} download>
              {t("Save these as CSV")}
            </a>
          </>
        )}
      </div>
      {v.unread > 0 && (
        <p className="quiet small" role="status">
          {t("Answers of {{count}} earlier orders are still being counted.", { count: v.unread })}
        </p>
      )}
      {nothing ? (
        <div className="empty">
          {of === "sheet"
            ? t("Answers will be here once somebody buys a product that uses it.")
            : t("Answers will be here once somebody buys it.")}
        </div>
      ) : (
        <>
          <section className="answer-plots" aria-label={t("What they come to")}>
            {told.map((c) => (
              <figure key={c.key}>
                <figcaption>
                  <span>
                    {c.wording}{" "}
                    <span className="small quiet num">{t("{{count}} answers", { count: c.answered })}</span>
                  </span>
                  {of === "product" && c.sheet && (
                    <Link className="small" to={`/sheets/${c.sheet}/answers`}>
                      {t("in all products")}
                    </Link>
                  )}
                </figcaption>
                {c.counts && (
                  <Counts
                    counts={c.counts}
                    on={c.key === query.question ? query.what : undefined}
                    choose={(what) =>
                      c.key === query.question && what === query.what
                        ? set({ question: undefined, what: undefined })
                        : set({ question: c.key, what })
                    }
                  />
                )}
                {c.numbers && <Numbers n={c.numbers} currency={c.currency} />}
              </figure>
            ))}
          </section>
          <div className="row">
            <Input
              className="customer-search"
              aria-label={t("Only rows with")}
              placeholder={t("Only rows with")}
              allowClear
              maxLength={200}
              value={typed}
              onChange={(e) => setTyped(e.target.value)}
            />
            {query.what && (
              <Button onClick={() => set({ question: undefined, what: undefined })}>
                {t("only {{who}}", { who: only?.what ?? query.what })} ×
              </Button>
            )}
            <span className="grow quiet small">{t("{{count}} orders", { count: v.all })}</span>
            {(v.more || query.page > 1) && (
              <>
                <Button disabled={query.page <= 1} onClick={() => turn(query.page - 1)}>
                  {t("Page before")}
                </Button>
                <span className="small quiet num">
                  {t("{{from}} to {{to}}", { from: v.from, to: before + v.rows.length })}
                </span>
                <Button disabled={!v.more} onClick={() => turn(query.page + 1)}>
                  {t("Page after")}
                </Button>
              </>
            )}
            <Button disabled={v.rows.length === 0} onClick={() => setAt(before)}>
              {t("One by one")}
            </Button>
          </div>
          <div className={table.isPlaceholderData ? "answer-table stale" : "answer-table"}>
            {v.all === 0 ? (
              <div className="empty">{t("No order has that.")}</div>
            ) : (
              <Rows
                rows={v.rows}
                by={(r) => r.line}
                pagination={false}
                onChange={(_, __, sorter) => {
                  if (Array.isArray(sorter)) return;
                  const key = String(sorter.columnKey ?? "");
                  if (key === "#number") {
                    return set({
                      sort: undefined,
                      by: undefined,
                      turned: query.sort || query.turned ? undefined : "1",
                    });
                  }
                  const fixed = key === "#customer" || key === "#product";
                  set({
                    sort: sorter.order ? (fixed ? key.slice(1) : "answer") : undefined,
                    by: sorter.order && !fixed ? key : undefined,
                    turned: sorter.order === "descend" ? "1" : undefined,
                  });
                }}
                columns={[
                  {
                    key: "#number",
                    title: t("Order"),
                    className: "num",
                    rowScope: "row",
                    sorter: true,
                    sortDirections: ["descend", "ascend"],
                    sortOrder: age,
                    render: (_, r) => <Link to={`/orders/${r.line}`}>{r.number}</Link>,
                  },
                  {
                    key: "#customer",
                    title: t("Customer"),
                    sorter: true,
                    sortOrder: sorted("customer"),
                    render: (_, r) => (
                      <>
                        {r.customer}
                        <div className="small quiet">{day(local(r.placed, session.zone).day, today)}</div>
                      </>
                    ),
                  },
                  ...(of === "sheet"
                    ? [
                        {
                          key: "#product",
                          title: t("Product"),
                          sorter: true,
                          sortOrder: sorted("product"),
                          render: (_: unknown, r: Row) => r.product,
                        },
                      ]
                    : []),
                  ...v.columns.map((c) => ({
                    key: c.key,
                    title: c.wording,
                    sorter: true,
                    sortOrder: sorted("answer", c.key),
                    render: (_: unknown, r: Row) => <Cell line={r.line} cell={r.cells[c.key]} />,
                  })),
                ]}
              />
            )}
          </div>
        </>
      )}
      {at !== undefined && v.all > 0 && (
        <OneByOne
          row={current ? v.rows[at - before] : undefined}
          columns={v.columns}
          at={at}
          of={v.all}
          go={setAt}
        />
      )}
    </main>
  );
}
