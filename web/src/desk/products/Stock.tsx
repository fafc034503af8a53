import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Drawer, Input, Popconfirm, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, local } from "../../shared/format";
import { lost } from "../../shared/lost";
import { WholeBox } from "../../shared/questions/boxes";
import type { Choice } from "../../shared/questions/one_choice/Choices";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";
import { Rows } from "../Rows";
import { ProductTabs } from "../Tabs";

const queryKey = ["stock"];
type Change = Omit<Schemas["StockChange"], "ids">;

// Stock reports all that is counted, and changes many at once.
export function Stock() {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [ticked, setTicked] = useState<number[]>([]);
  const [history, setHistory] = useState<Schemas["StockRow"]>();
  const stock = useQuery({
    queryKey,
    queryFn: () => take(api.GET("/api/desk/stock")),
    refetchInterval: 15_000,
  });
  const arrived = {
    refreshes: ["stock-moves"],
    done: (rows: Schemas["StockRow"][]) => queries.setQueryData(queryKey, rows),
  };
  const change = useChange({
    once: true,
    send: (c: Schemas["StockChange"]) => take(api.PATCH("/api/desk/stock", { body: c })),
    ...arrived,
  });
  const drop = useChange({
    send: (id: number) => take(api.DELETE("/api/desk/stock/{id}", { params: { path: { id } } })),
    ...arrived,
  });
  if (lost(stock)) return <Trouble error={stock.error} again={() => stock.refetch()} />;
  const rows = stock.data ?? [];
  const states: Record<Schemas["StockRow"]["state"], React.ReactNode> = {
    enough: <span className="mark good">● {t("enough")}</span>,
    low: <span className="mark attention">▲ {t("low")}</span>,
    out: <span className="mark bad">○ {t("sold out")}</span>,
  };
  const chosen = ticked.filter((id) => rows.some((r) => r.id === id));
  return (
    <main className="desk-page">
      <h1>{t("Stock")}</h1>
      <ProductTabs />
      <Start arrived={arrived} />
      <Trouble error={change.problem ?? drop.problem} />
      {stock.data?.length === 0 && (
        <div className="empty">
          {t("What you count will be here. Begin with a product, or with a choice of one.")}
        </div>
      )}
      {chosen.length > 0 && (
        <Bulk
          key={chosen.length}
          count={chosen.length}
          busy={change.busy}
          change={(c) => change.send({ ids: chosen, ...c })}
        />
      )}
      {rows.length > 0 && (
        <Rows
          rows={rows}
          by={(r) => r.id}
          columns={[
            {
              title: (
                <Checkbox
                  aria-label={t("tick all")}
                  checked={chosen.length === rows.length}
                  indeterminate={chosen.length > 0 && chosen.length < rows.length}
                  onChange={(e) => setTicked(e.target.checked ? rows.map((r) => r.id) : [])}
                />
              ),
              render: (_, r) => (
                <Checkbox
                  aria-label={t("tick {{what}}", { what: named(r) })}
                  checked={chosen.includes(r.id)}
                  onChange={(e) =>
                    setTicked(e.target.checked ? [...chosen, r.id] : chosen.filter((x) => x !== r.id))
                  }
                />
              ),
            },
            {
              title: t("What is counted"),
              rowScope: "row",
              sorter: (a, b) => named(a).localeCompare(named(b)),
              render: (_, r) => (
                <>
                  {r.title}
                  {r.label && <div className="small quiet">{r.label}</div>}
                  {r.sheet !== undefined && (
                    <div className="small quiet">{t("once for all products that use the sheet")}</div>
                  )}
                  {r.closes && <div className="small quiet">{t("closes the product when sold out")}</div>}
                </>
              ),
            },
            {
              title: t("On hand"),
              dataIndex: "pieces",
              align: "right",
              sorter: (a, b) => a.pieces - b.pieces,
            },
            {
              title: t("Held"),
              align: "right",
              sorter: (a, b) => a.held - b.held,
              render: (_, r) => r.held > 0 && r.held,
            },
            {
              title: t("Left"),
              align: "right",
              sorter: (a, b) => a.left - b.left,
              render: (_, r) => <b>{r.left}</b>,
            },
            { title: t("Low from"), align: "right", render: (_, r) => r.low > 0 && r.low },
            { title: t("State"), render: (_, r) => states[r.state] },
            {
              title: <span className="sr">{t("History")}</span>,
              render: (_, r) => (
                <span className="row">
                  <Button size="small" onClick={() => setHistory(r)}>
                    {t("History")}
                    <span className="sr"> {named(r)}</span>
                  </Button>
                  <Popconfirm
                    title={t("Stop counting “{{what}}”?", { what: named(r) })}
                    description={t("It can be sold without end then, and its history is lost.")}
                    okText={t("Stop counting")}
                    cancelText={t("Leave it as it was")}
                    onConfirm={() => drop.send(r.id)}
                  >
                    <Button size="small" aria-label={t("Take {{what}} away", { what: named(r) })}>
                      ×
                    </Button>
                  </Popconfirm>
                </span>
              ),
            },
          ]}
        />
      )}
      {history && <History row={history} close={() => setHistory(undefined)} />}
    </main>
  );
}

const named = (r: Schemas["StockRow"]) => (r.label ? `${r.title}, ${r.label}` : r.title);

type BulkProps = { count: number; busy: boolean; change: (c: Change) => void };

// Bulk changes all that is ticked at once.
function Bulk({ count, busy, change }: BulkProps) {
  const { t } = useTranslation();
  const [how, setHow] = useState<"add" | "set" | "low">("add");
  const [n, setN] = useState<number>();
  const [why, setWhy] = useState("");
  return (
    <form
      className="sheet row"
      aria-label={t("Change what is ticked")}
      onSubmit={(e) => {
        e.preventDefault();
        if (n !== undefined && !busy) change({ [how]: n, why: why || undefined });
      }}
    >
      <strong>{t("{{count}} ticked", { count })}</strong>
      <Select
        aria-label={t("How they change")}
        value={how}
        onChange={setHow}
        options={[
          { value: "add", label: t("so many come (or go)") },
          { value: "set", label: t("so many are on hand") },
          { value: "low", label: t("low from so many on") },
        ]}
      />
      <span className="charge-box">
        <WholeBox id="bulk-n" label={t("How many")} value={n} onChange={setN} />
      </span>
      {how !== "low" && (
        <Input
          className="bulk-why"
          aria-label={t("Why")}
          placeholder={t("why, such as “delivery”")}
          value={why}
          maxLength={200}
          onChange={(e) => setWhy(e.target.value)}
        />
      )}
      <Button type="primary" htmlType="submit" loading={busy} disabled={n === undefined}>
        {t("Change them")}
      </Button>
      <Button onClick={() => change({ closes: true })}>{t("Close the product with it")}</Button>
      <Button onClick={() => change({ closes: false })}>{t("Leave the product open")}</Button>
    </form>
  );
}

// Start begins to count a product or a choice of one; or a choice of a sheet, once
// for all products that use it.
type Arrived = { refreshes: string[]; done: (rows: Schemas["StockRow"][]) => void };

function Start({ arrived }: { arrived: Arrived }) {
  const { t } = useTranslation();
  const products = useQuery({ queryKey: ["products"], queryFn: () => take(api.GET("/api/desk/products")) });
  const sheets = useQuery({ queryKey: ["sheets"], queryFn: () => take(api.GET("/api/desk/sheets")) });
  const [of, setOf] = useState<string>();
  const [kind, number] = of?.split(" ") ?? [];
  const id = kind === "product" ? Number(number) : undefined;
  const sheetId = kind === "sheet" ? Number(number) : undefined;
  const [what, setWhat] = useState("");
  const [pieces, setPieces] = useState<number>();
  const product = useQuery({
    queryKey: ["product-choices", id],
    queryFn: () => take(api.GET("/api/desk/products/{id}", { params: { path: { id: id ?? 0 } } })),
    enabled: id !== undefined,
  });
  const sheet = useQuery({
    queryKey: ["sheet-choices", sheetId],
    queryFn: () => take(api.GET("/api/desk/sheets/{id}", { params: { path: { id: sheetId ?? 0 } } })),
    enabled: sheetId !== undefined,
  });
  const start = useChange({
    once: true,
    send: () => {
      const [question, choice] = what.split("/");
      return take(
        api.POST("/api/desk/stock", {
          body: {
            product: id,
            sheet: sheetId,
            pieces: pieces ?? 0,
            ...(question ? { question, choice } : {}),
          },
        }),
      );
    },
    refreshes: arrived.refreshes,
    done: (rows) => {
      arrived.done(rows);
      setPieces(undefined);
    },
  });
  const asked =
    sheetId === undefined
      ? [...(product.data?.draft.questions ?? []), ...(product.data?.linked ?? [])]
      : (sheet.data?.questions ?? []);
  const questions = asked.filter(
    (q) =>
      (q.kind === "one_choice" || q.kind === "several_choices") &&
      (q.moment === "choosing" || q.moment === "paying"),
  );
  return (
    <form
      className="row"
      onSubmit={(e) => {
        e.preventDefault();
        start.send();
      }}
    >
      <Select
        aria-label={t("Product to count")}
        className="count-from"
        showSearch={{ optionFilterProp: "label" }}
        placeholder={t("count a product or sheet")}
        value={of}
        onChange={(v) => {
          setOf(v);
          setWhat("");
          start.forget();
        }}
        options={[
          {
            label: t("Sheets, once for all their products"),
            options: (sheets.data ?? []).map((s) => ({ value: `sheet ${s.id}`, label: s.name })),
          },
          {
            label: t("Products"),
            options: (products.data ?? []).map((p) => ({ value: `product ${p.id}`, label: p.title })),
          },
        ]}
      />
      {of !== undefined && (
        <>
          <Select
            aria-label={t("What of it to count")}
            className="add-from"
            value={what}
            onChange={setWhat}
            options={[
              sheetId === undefined
                ? { value: "", label: t("the product itself") }
                : { value: "", label: t("which choice?"), disabled: true },
              ...questions.map((q) => ({
                label: q.wording,
                options: ((q.settings?.choices as Choice[] | undefined) ?? []).map((c) => ({
                  value: `${q.key}/${c.code}`,
                  label: c.label,
                })),
              })),
            ]}
          />
          <span className="charge-box">
            <WholeBox id="start-pieces" label={t("Pieces on hand")} value={pieces} onChange={setPieces} />
          </span>
          <Button
            type="primary"
            htmlType="submit"
            loading={start.busy}
            disabled={pieces === undefined || (sheetId !== undefined && what === "")}
          >
            {t("Begin to count")}
          </Button>
        </>
      )}
      <Trouble error={start.problem} />
    </form>
  );
}

// History tells who and what changed the pieces on hand, with a line that
// follows them.
function History({ row, close }: { row: Schemas["StockRow"]; close: () => void }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const moves = useQuery({
    queryKey: ["stock-moves", row.id],
    queryFn: () => take(api.GET("/api/desk/stock/{id}/changes", { params: { path: { id: row.id } } })),
  });
  const words: Record<string, string> = {
    counted: t("counted"),
    sold: t("sold"),
    returned: t("returned"),
  };
  const list = moves.data ?? [];
  const line = list.map((m) => m.pieces).toReversed();
  const most = Math.max(...line, 1);
  const points = line.map((n, i) => `${(300 * i) / Math.max(line.length - 1, 1)},${58 - (54 * n) / most}`);
  return (
    <Drawer open onClose={close} title={row.label ? `${row.title} · ${row.label}` : row.title} size={460}>
      <Trouble error={lost(moves)} />
      {list.length === 0 && moves.data && <div className="empty">{t("Nothing changed yet.")}</div>}
      {line.length > 1 && (
        <svg
          className="stock-line"
          viewBox="0 0 300 60"
          role="img"
          aria-label={t("Pieces on hand, from the first change to the last: {{numbers}}", {
            numbers: line.join(", "),
          })}
        >
          <polyline points={points.join(" ")} />
        </svg>
      )}
      <ul className="plain-list">
        {list.map((m) => {
          const at = local(m.at, session.zone);
          return (
            <li key={m.at + m.delta} className="row">
              <span className="num small quiet">
                {day(at.day, today)} {at.time}
              </span>
              <b className="num">{m.delta > 0 ? `+${m.delta}` : `−${-m.delta}`}</b>
              <span className="grow">
                {words[m.why] ?? m.why}
                {m.number && `, ${t("order {{number}}", { number: m.number })}`}, {m.by}
              </span>
              <span className="num">{m.pieces}</span>
            </li>
          );
        })}
      </ul>
    </Drawer>
  );
}
