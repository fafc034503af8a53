import { useQuery } from "@tanstack/react-query";
import { Button, Input, Modal } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams, useSearchParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, local } from "../../shared/format";
import { home } from "../../shared/home";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";
import { Rows } from "../Rows";
import { Counts, Numbers } from "./AnswerPlots";

type Row = Schemas["AnswerRow"];
type Column = Schemas["AnswerColumn"];

// Answers shows all answers of a product, or to the questions of a sheet in all products
// that use it: an order a row, a question a column, one by one, and what they come to.
export function Answers({ of }: { of: "product" | "sheet" }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const { id } = useParams();
  const [text, setText] = useState("");
  const [only, setOnly] = useState<{ key: string; what: string }>();
  const [at, setAt] = useState<number>();
  const [search, setSearch] = useSearchParams();
  const page = Number(search.get("page") ?? 1);
  const table = useQuery({
    queryKey: ["answers", of, id, page],
    placeholderData: (old) => old,
    queryFn: () => {
      const params = { path: { id: Number(id) }, query: { page } };
      return of === "sheet"
        ? take(api.GET("/api/desk/sheets/{id}/answers", { params }))
        : take(api.GET("/api/desk/products/{id}/answers", { params }));
    },
  });
  if (table.error) return <Trouble error={table.error} again={() => table.refetch()} />;
  const v = table.data;
  if (!v) return null;
  const turn = (to: number) => {
    setOnly(undefined);
    setSearch(to > 1 ? { page: String(to) } : {});
  };
  const wanted = text.trim().toLowerCase();
  const rows = v.rows.filter(
    (r) =>
      (!only || (r.cells[only.key]?.words ?? "").toLowerCase().includes(only.what.toLowerCase())) &&
      (!wanted ||
        r.customer.toLowerCase().includes(wanted) ||
        r.product.toLowerCase().includes(wanted) ||
        Object.values(r.cells).some((c) => c.words.toLowerCase().includes(wanted))),
  );
  const told = v.columns.filter((c) => c.counts || c.numbers);
  const looked = at === undefined ? undefined : rows[at];
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
      {v.rows.length === 0 && page === 1 ? (
        <div className="empty">
          {of === "sheet"
            ? t("Answers will be here once somebody buys a product that uses it.")
            : t("Answers will be here once somebody buys it.")}
        </div>
      ) : (
        <>
          {(v.more || page > 1) && (
            <div className="row">
              <Button disabled={page <= 1} onClick={() => turn(page - 1)}>
                {t("Newer")}
              </Button>
              <span className="small quiet num">
                {t("{{from}} to {{to}}, the newest first", { from: v.from, to: v.from + v.rows.length - 1 })}
              </span>
              <Button disabled={!v.more} onClick={() => turn(page + 1)}>
                {t("Older")}
              </Button>
            </div>
          )}
          <section className="answer-plots" aria-label={t("What they come to")}>
            {told.map((c) => (
              <figure key={c.key}>
                <figcaption>
                  {c.wording}
                  {of === "product" && c.sheet && (
                    <Link className="small" to={`/sheets/${c.sheet}/answers`}>
                      {t("in all products")}
                    </Link>
                  )}
                </figcaption>
                {c.counts && (
                  <Counts
                    counts={c.counts}
                    on={only?.key === c.key ? only.what : undefined}
                    choose={(what) => {
                      setOnly(only?.key === c.key && only.what === what ? undefined : { key: c.key, what });
                    }}
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
              value={text}
              onChange={(e) => setText(e.target.value)}
            />
            {only && (
              <Button onClick={() => setOnly(undefined)}>{t("only {{who}}", { who: only.what })} ×</Button>
            )}
            <span className="grow quiet small">{t("{{count}} orders", { count: rows.length })}</span>
            <Button disabled={rows.length === 0} onClick={() => setAt(0)}>
              {t("One by one")}
            </Button>
          </div>
          <div className="answer-table">
            <Rows
              rows={rows}
              by={(r) => r.line}
              columns={[
                {
                  key: "number",
                  title: t("Order"),
                  className: "num",
                  rowScope: "row",
                  sorter: (a, b) => a.number - b.number,
                  render: (_, r) => <Link to={`/orders/${r.line}`}>{r.number}</Link>,
                },
                {
                  key: "customer",
                  title: t("Customer"),
                  sorter: (a, b) => a.customer.localeCompare(b.customer),
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
                        key: "product",
                        title: t("Product"),
                        sorter: (a: Row, b: Row) => a.product.localeCompare(b.product),
                        render: (_: unknown, r: Row) => r.product,
                      },
                    ]
                  : []),
                ...v.columns.map((c: Column) => ({
                  key: c.key,
                  title: c.wording,
                  sorter: (a: Row, b: Row) =>
                    (a.cells[c.key]?.words ?? "").localeCompare(b.cells[c.key]?.words ?? "", undefined, {
                      numeric: true,
                    }),
                  render: (_: unknown, r: Row) => <Cell line={r.line} cell={r.cells[c.key]} />,
                })),
              ]}
            />
          </div>
        </>
      )}
      {looked && at !== undefined && (
        <OneByOne row={looked} columns={v.columns} at={at} of={rows.length} go={setAt} />
      )}
    </main>
  );
}

function Cell({ line, cell }: { line: number; cell?: Schemas["AnswerCell"] }) {
  if (!cell) return <span className="quiet">–</span>;
  return (
    <>
      {cell.colour && (
        <svg className="dot" viewBox="0 0 14 14" aria-hidden="true">
          <circle cx="7" cy="7" r="6.5" fill={cell.colour} />
        </svg>
      )}
      <span className="answer-words">{cell.words}</span>
      {cell.files
        ?.filter((f) => f.picture)
        .map((f) => (
          <img
            key={f.file}
            className="answer-thumb"
            src={`${home}/api/desk/dockets/${line}/files/${f.file}?as=thumbnail`}
            alt={f.caption || f.name}
            loading="lazy"
          />
        ))}
    </>
  );
}

type OneProps = {
  row: Row;
  columns: Column[];
  at: number;
  of: number;
  go: (at: number | undefined) => void;
};

// OneByOne shows the answers of one order, and goes on with the arrow keys.
function OneByOne({ row, columns, at, of, go }: OneProps) {
  const { t } = useTranslation();
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (e.key === "ArrowRight" && at + 1 < of) go(at + 1);
      if (e.key === "ArrowLeft" && at > 0) go(at - 1);
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [at, of, go]);
  return (
    <Modal
      open
      title={`${row.number} · ${row.customer}`}
      onCancel={() => go(undefined)}
      footer={
        <div className="row">
          <Button disabled={at === 0} onClick={() => go(at - 1)}>
            ← {t("Before")}
          </Button>
          <span className="grow small quiet num">{t("{{at}} of {{of}}", { at: at + 1, of })}</span>
          <Link to={`/orders/${row.line}`}>{t("Open the order")}</Link>
          <Button disabled={at + 1 >= of} onClick={() => go(at + 1)}>
            {t("After")} →
          </Button>
        </div>
      }
    >
      <dl className="brief">
        {columns.map((c) => (
          <div key={c.key}>
            <dt>{c.wording}</dt>
            <dd>
              <Cell line={row.line} cell={row.cells[c.key]} />
            </dd>
          </div>
        ))}
      </dl>
    </Modal>
  );
}
