import { useInfiniteQuery } from "@tanstack/react-query";
import { Button, Checkbox } from "antd";
import { startTransition, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, span } from "../../shared/format";
import { home } from "../../shared/home";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";
import { typing } from "../typing";
import { AnswerFiles } from "./AnswerFiles";
import { Layout } from "./Layout";
import { canBeDone, SheetRow } from "./SheetRow";
import { Ways } from "./Work";
import { useWorkAction } from "./WorkRow";

type Row = Schemas["WorksheetRow"];

// How many rows are drawn before one comes to the others, and how many then at a time.
const first = 60;
const atOnce = 15;

// together makes one sheet of its pages.
function together(pages?: Schemas["Worksheet"][]): Schemas["Worksheet"] | undefined {
  const [first, ...more] = pages ?? [];
  if (!first) return undefined;
  const columns = (of: "columns" | "all") => {
    const all = [...first[of]];
    for (const p of more) for (const c of p[of]) if (!all.some((x) => x.key === c.key)) all.push(c);
    return all;
  };
  return {
    ...first,
    columns: columns("columns"),
    all: columns("all"),
    rows: [first, ...more].flatMap((p) => p.rows),
  };
}

// Worksheet shows the open items of one step side by side: a row an item, a
// column an answer that the step needs.
export function Worksheet() {
  const { t } = useTranslation();
  const { today } = useHere();
  const { product = "", step = "" } = useParams();
  const [ticked, setTicked] = useState<Set<number>>(new Set());
  const [at, setAt] = useState(0);
  const [done, setDone] = useState<number[]>([]);
  const [large, setLarge] = useState(false);
  const act = useWorkAction();
  // A long sheet is drawn as one comes to it, so that it scrolls smoothly.
  const [some, setSome] = useState(first);
  const end = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const box = end.current;
    if (!box) return;
    const look = new IntersectionObserver(
      (seen) => seen.some((s) => s.isIntersecting) && startTransition(() => setSome((n) => n + atOnce)),
      { rootMargin: "3000px" },
    );
    look.observe(box);
    return () => look.disconnect();
  });
  const pages = useInfiniteQuery({
    queryKey: ["worksheet", product, step, "pages"],
    queryFn: ({ pageParam }) =>
      take(
        api.GET("/api/desk/worksheets/{product}/{step}", {
          params: { path: { product: Number(product), step }, query: { from: pageParam } },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last, all) => (last.more ? all.reduce((n, p) => n + p.rows.length, 0) : undefined),
  });
  // The next page is asked for as soon as one is there, so that all can be grouped,
  // ticked and counted.
  const { hasNextPage, isFetching, fetchNextPage } = pages;
  useEffect(() => {
    if (hasNextPage && !isFetching) fetchNextPage();
  }, [hasNextPage, isFetching, fetchNextPage]);
  const whole = useMemo(() => together(pages.data?.pages), [pages.data]);
  const sheet = { data: whole, error: pages.error, refetch: pages.refetch };
  // All of it goes on paper.
  useEffect(() => {
    const all = () => flushSync(() => setSome(Number.POSITIVE_INFINITY));
    window.addEventListener("beforeprint", all);
    return () => window.removeEventListener("beforeprint", all);
  }, []);
  const grouped = sheet.data?.grouped ?? "";
  const groupOf = (r: Row) =>
    grouped === "due"
      ? r.item.due_day
        ? day(r.item.due_day, today)
        : t("no day yet")
      : grouped === "customer"
        ? r.item.customer
        : r.cells[grouped]?.words || t("nothing");
  const listed = sheet.data?.rows ?? [];
  const rows = grouped
    ? [...listed].sort((a, b) =>
        grouped === "due" ? 0 : groupOf(a).localeCompare(groupOf(b), undefined, { numeric: true }),
      )
    : listed;
  const groups = rows.map((r, i) => {
    const before = rows[i - 1];
    return grouped && (before === undefined || groupOf(before) !== groupOf(r)) ? groupOf(r) : undefined;
  });
  const tick = useCallback(
    (id: number) =>
      setTicked((old) => {
        const next = new Set(old);
        if (!next.delete(id)) next.add(id);
        return next;
      }),
    [],
  );
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (typing(e) && (e.target as HTMLInputElement).type !== "checkbox") return;
      if (e.key === "j") {
        setAt((n) => Math.min(n + 1, rows.length - 1));
        setSome((n) => Math.max(n, at + 2));
      } else if (e.key === "k") setAt((n) => Math.max(n - 1, 0));
      else if (e.key === "x") {
        const item = rows[at]?.item;
        if (item && canBeDone(item.state)) tick(item.id);
      } else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  });
  if (lost(sheet)) return <Trouble error={sheet.error} again={() => sheet.refetch()} />;
  if (!sheet.data) return null;
  const { title, columns } = sheet.data;
  const chosen = rows.filter((r) => ticked.has(r.item.id)).map((r) => r.item.id);
  const finish = async () => {
    if (!(await act.send({ action: "finish", items: chosen }))) return;
    setDone(chosen);
    setTicked(new Set());
  };
  const begin = async () => {
    if (await act.send({ action: "start", items: chosen })) setTicked(new Set());
  };
  const undo = async () => {
    if (await act.send({ action: "undo", items: done })) setDone([]);
  };
  return (
    <main className={large ? "desk-page wide large-print" : "desk-page wide"}>
      <div className="row">
        <h1>{title}</h1>
        <span className="quiet">
          {sheet.data.product} · {t("{{count}} items", { count: rows.length })},{" "}
          {span(rows.reduce((n, r) => n + r.item.minutes, 0))}
        </span>
        <span className="grow" />
        <Ways by="step" />
      </div>
      <div className="row sheet-tools">
        <Layout sheet={sheet.data} product={product} step={step} />
        <Button onClick={() => window.print()}>{t("Print")}</Button>
        <Checkbox checked={large} onChange={(e) => setLarge(e.target.checked)}>
          {t("large print")}
        </Checkbox>
        <span>
          PDF{" "}
          <a
            href={`${home}/api/desk/worksheets/${product}/${step}/sheet.pdf?paper=a4&large=${large}`}
            download
          >
            A4
          </a>{" "}
          <a
            href={`${home}/api/desk/worksheets/${product}/${step}/sheet.pdf?paper=letter&large=${large}`}
            download
          >
            Letter
          </a>
        </span>
        <a href={`${home}/api/desk/worksheets/${product}/${step}/table.csv`} download>
          CSV
        </a>
        <AnswerFiles at={`${home}/api/desk/worksheets/${product}/${step}/answers.zip`} />
        <Link to={`/work/${product}/${step}/labels`}>{t("Labels")}</Link>
        <Link to={`/work/${product}/${step}/bench`}>{t("One at a time")}</Link>
        <span className="grow" />
        <Button disabled={chosen.length === 0} loading={act.busy} onClick={begin}>
          {t("Start {{count}}", { count: chosen.length })}
        </Button>
        <Link
          to={`/work/handover?lines=${[...new Set(rows.filter((r) => ticked.has(r.item.id)).map((r) => r.item.line))].join(",")}`}
        >
          {t("Hand over")}
        </Link>
        <Button type="primary" disabled={chosen.length === 0} loading={act.busy} onClick={finish}>
          {t("Mark {{count}} done", { count: chosen.length })}
        </Button>
      </div>
      <Trouble error={act.problem ?? sheet.error} />
      {done.length > 0 && (
        <div className="notice good row" role="status">
          <span className="grow">{t("Done: {{count}} items", { count: done.length })}</span>
          <Button onClick={undo}>{t("Undo")}</Button>
        </div>
      )}
      {rows.length === 0 ? (
        <div className="empty">
          {t("This step has no open work.")} <Link to="/work?by=step">{t("See the other steps")}</Link>
        </div>
      ) : (
        <div className="table-frame">
          <table className="worksheet">
            <thead>
              <tr>
                <th>
                  <span className="sr">{t("tick")}</span>
                </th>
                <th>{t("Order")}</th>
                <th>{t("Due")}</th>
                {columns.map((c) => (
                  <th key={c.key}>{c.wording}</th>
                ))}
                <th>{t("Work")}</th>
              </tr>
            </thead>
            <tbody>
              {rows.slice(0, some).map((row, i) => [
                groups[i] !== undefined && (
                  <tr key={`group ${groups[i]}`} className="worksheet-group">
                    <th colSpan={columns.length + 4} scope="rowgroup">
                      {groups[i]}
                    </th>
                  </tr>
                ),
                <SheetRow
                  key={row.item.id}
                  row={row}
                  columns={columns}
                  today={today}
                  ticked={ticked.has(row.item.id)}
                  at={i === at}
                  tick={tick}
                />,
              ])}
            </tbody>
          </table>
          {some < rows.length && (
            <div ref={end} className="small quiet worksheet-more">
              {t("{{count}} more rows", { count: rows.length - some })}
            </div>
          )}
        </div>
      )}
    </main>
  );
}
