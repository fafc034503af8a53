import { useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Input, Select } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useSearchParams } from "react-router";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { Drop } from "../../shared/Drop";
import { day } from "../../shared/format";
import { size } from "../../shared/handover/types";
import { Labelled } from "../../shared/Labelled";
import { SendingRow } from "../../shared/questions/files/Rows";
import { forget, type Upload } from "../../shared/questions/files/sending";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";
import { type How, HowGiven } from "./How";
import { useFinished } from "./useFinished";
import "../../shared/handover/handover.css";

type Line = Schemas["HandoverLine"];
type Match = Schemas["FinishedMatch"];

// What became of an order's handover.
type Given = { state: "going" | "given" | "refused"; message?: string };

// HandOver hands many finished files over at once: each finds its order by its name, by
// a pattern or by a scanned label, is shown there before it goes, and can be put
// elsewhere.
export function HandOver() {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [params] = useSearchParams();
  const wanted = useMemo(() => (params.get("lines") ?? "").split(",").map(Number).filter(Boolean), [params]);
  const [files, setFiles] = useState<Upload[]>([]);
  const [lines, setLines] = useState<Map<number, Line>>(new Map());
  const [matches, setMatches] = useState<Map<string, Match>>(new Map());
  const [put, setPut] = useState<Map<string, number>>(new Map()); // files by hand, 0 for none
  const [how, setHow] = useState<Map<number, How>>(new Map());
  const [given, setGiven] = useState<Map<number, Given>>(new Map());
  const [pattern, setPattern] = useState("");
  const [message, setMessage] = useState("");
  const [finish, setFinish] = useState(true);
  const [problem, setProblem] = useState<unknown>();
  const [going, setGoing] = useState(false);
  const { sending, begin, again, cancel } = useFinished((u) =>
    setFiles((old) => (old.some((f) => f.id === u.id) ? old : [...old, u])),
  );

  // Names are matched as soon as files are chosen, while they are still on their way.
  const names = [...files.map((f) => f.name), ...sending.map((s) => s.file.name)].sort();
  const asked = JSON.stringify([names, pattern, wanted]);
  const latest = useRef("");
  // biome-ignore lint/correctness/useExhaustiveDependencies: all that is asked stands in asked
  useEffect(() => {
    latest.current = asked;
    const soon = setTimeout(async () => {
      try {
        const found = await take(
          api.POST("/api/desk/finished/match", {
            body: { names: [...new Set(names)], lines: wanted, pattern: pattern || undefined },
          }),
        );
        if (latest.current !== asked) return;
        setProblem(undefined);
        setMatches(new Map(found.matches.map((m) => [m.name, m])));
        know(found.lines);
      } catch (e) {
        if (latest.current === asked) setProblem(e);
      }
    }, 250);
    return () => clearTimeout(soon);
  }, [asked]);
  const know = (found: Line[]) =>
    setLines((old) => {
      const next = new Map(old);
      for (const l of found) if (!next.has(l.line)) next.set(l.line, l);
      return next;
    });
  const [shown, setShown] = useState<number[]>([]); // added by a scan
  const scan = async (code: string) => {
    try {
      const found = await take(api.POST("/api/desk/finished/match", { body: { names: [], code } }));
      know(found.lines);
      setShown((old) => [...old, ...found.lines.map((l) => l.line).filter((l) => !old.includes(l))]);
      setProblem(undefined);
      return true;
    } catch (e) {
      setProblem(e);
      return false;
    }
  };

  const lineOf = (f: Upload): number => {
    const own = put.get(f.id);
    if (own !== undefined) return own;
    const found = matches.get(f.name)?.lines ?? [];
    return found.length === 1 ? (found[0] ?? 0) : 0;
  };
  const howOf = (l: Line): How => how.get(l.line) ?? { step: l.step, whole: l.whole };
  const loose = files.filter((f) => lineOf(f) === 0);
  const groups = [...lines.values()]
    .map((line) => ({ line, files: files.filter((f) => lineOf(f) === line.line) }))
    .filter(
      (g) =>
        g.files.length > 0 ||
        wanted.includes(g.line.line) ||
        shown.includes(g.line.line) ||
        given.has(g.line.line),
    )
    .sort((a, b) => a.line.number - b.line.number || a.line.line - b.line.line);
  const ready = groups.filter((g) => g.files.length > 0);
  const move = (f: Upload, line: number) => setPut((old) => new Map(old).set(f.id, line));
  const drop = (f: Upload) => {
    setFiles((old) => old.filter((x) => x.id !== f.id));
    forget(f.id);
  };

  const tell = (line: number, state: Given) => setGiven((old) => new Map(old).set(line, state));
  const handOver = async () => {
    setGoing(true);
    for (const g of ready) {
      tell(g.line.line, { state: "going" });
      const h = howOf(g.line);
      try {
        await take(
          api.POST("/api/desk/dockets/{line}/handovers", {
            params: { path: { line: g.line.line } },
            body: {
              files: g.files.map((f) => f.id),
              message: message.trim() ? message : undefined,
              step: h.step || undefined,
              whole: h.whole,
              finish,
            },
          }),
        );
        tell(g.line.line, { state: "given" });
        const gone = new Set(g.files.map((f) => f.id));
        setFiles((old) => old.filter((f) => !gone.has(f.id)));
      } catch (e) {
        tell(g.line.line, {
          state: "refused",
          message: e instanceof Problem ? (e.errors[0]?.message ?? e.message) : String(e),
        });
      }
    }
    setGoing(false);
    for (const key of ["orders", "work", "today", "worksheet", "docket"])
      queries.invalidateQueries({ queryKey: [key] });
  };
  const options = [...lines.values()].map((l) => ({
    value: l.line,
    label: `${l.number} · ${l.customer} · ${l.title}`,
  }));
  const count = ready.reduce((n, g) => n + g.files.length, 0);
  const done = [...given.values()].filter((g) => g.state === "given").length;
  return (
    <main className="desk-page wide hand-over">
      <div className="row">
        <h1>{t("Hand over")}</h1>
        <span className="grow" />
        <Link to="/work">{t("Work")}</Link>
      </div>
      <div className="hand-over-columns">
        <div className="stack">
          <Drop
            wording={t("Finished files")}
            most={1000}
            add={(list) => begin([...(list ?? [])])}
            button={files.length + sending.length === 0 ? t("Choose finished files") : undefined}
          >
            {t("or drop them here: each finds its order by its name")}
          </Drop>
          <Trouble error={problem} />
          {sending.length > 0 && (
            <section className="stack" aria-label={t("On their way")}>
              <Progress files={files.length} sending={sending} />
              {sending.slice(0, 6).map((s) => (
                <SendingRow key={s.key} s={s} again={() => again(s)} cancel={() => cancel(s)} />
              ))}
              {sending.length > 6 && (
                <div className="small quiet">{t("and {{count}} more", { count: sending.length - 6 })}</div>
              )}
            </section>
          )}
          {loose.length > 0 && (
            <section className="sheet stack">
              <h2>{t("{{count}} files without an order", { count: loose.length })}</h2>
              {loose.map((f) => {
                const found = matches.get(f.name)?.lines ?? [];
                return (
                  <div key={f.id} className="row loose-file">
                    <span className="grow file-name">{f.name}</span>
                    {found.length > 1 && (
                      <span className="mark attention">
                        {t("fits {{count}} orders", { count: found.length })}
                      </span>
                    )}
                    <Select
                      className="choose-order"
                      aria-label={t("Order of {{what}}", { what: f.name })}
                      placeholder={t("choose an order")}
                      showSearch={{ optionFilterProp: "label" }}
                      value={null}
                      onChange={(line: number) => move(f, line)}
                      options={found.length > 1 ? options.filter((o) => found.includes(o.value)) : options}
                    />
                    <Button
                      size="small"
                      aria-label={t("Take {{what}} away", { what: f.name })}
                      onClick={() => drop(f)}
                    >
                      ×
                    </Button>
                  </div>
                );
              })}
            </section>
          )}
          {groups.map((g) => (
            <Group
              key={g.line.line}
              line={g.line}
              files={g.files}
              by={(f) => (put.has(f.id) ? undefined : matches.get(f.name)?.by)}
              how={howOf(g.line)}
              set={(h) => setHow((old) => new Map(old).set(g.line.line, h))}
              given={given.get(g.line.line)}
              loose={loose.length}
              take={() => {
                for (const f of loose) move(f, g.line.line);
              }}
              out={(f) => move(f, 0)}
            />
          ))}
          {groups.length === 0 && loose.length === 0 && sending.length === 0 && (
            <div className="empty">
              {t(
                "Drop the finished files of as many orders as you like. A file finds its order by the order’s number in its name, by the name of the file that the customer sent, or by the customer’s name.",
              )}
            </div>
          )}
        </div>
        <aside className="stack">
          <Scan scan={scan} />
          <Labelled
            id="pattern"
            wording={t("How the files are named")}
            help={t("For example {{pattern}}. Empty: by number and names.", {
              pattern: "{{order}}-{{part}}-{{number}}",
            })}
            fault={problem instanceof Problem ? problem.of("pattern") : undefined}
          >
            <Input id="pattern" value={pattern} onChange={(e) => setPattern(e.target.value)} />
          </Labelled>
          <Labelled id="message-all" wording={t("Message")} help={t("Empty: what each product says.")}>
            <Input.TextArea
              id="message-all"
              rows={4}
              maxLength={5000}
              value={message}
              onChange={(e) => setMessage(e.target.value)}
            />
          </Labelled>
          <Checkbox checked={finish} onChange={(e) => setFinish(e.target.checked)}>
            {t("Mark the work done too")}
          </Checkbox>
          <Button
            type="primary"
            size="large"
            loading={going}
            disabled={count === 0 || sending.length > 0}
            onClick={handOver}
          >
            {t("Hand over {{count}} files", { count })}
          </Button>
          {count > 0 && (
            <div className="small quiet">
              {t("to {{count}} orders; each customer is told by mail", { count: ready.length })}
            </div>
          )}
          {done > 0 && (
            <div className="notice good" role="status">
              {t("Handed over: {{count}} orders", { count: done })}
            </div>
          )}
        </aside>
      </div>
    </main>
  );
}

// Progress is how far all files together are.
function Progress({
  files,
  sending,
}: {
  files: number;
  sending: { received: number; file: File; state: string }[];
}) {
  const { t } = useTranslation();
  const all = sending.reduce((n, s) => n + s.file.size, 0);
  const here = sending.reduce((n, s) => n + s.received, 0);
  return (
    <div className="row file-progress">
      <progress max={Math.max(all, 1)} value={here} aria-label={t("On their way")} />
      <span className="small quiet num">
        {t("{{here}} of {{all}}", { here: size(here), all: size(all) })} ·{" "}
        {t("{{count}} files are here", { count: files })}
      </span>
    </div>
  );
}

// Scan takes what a scanner types, or an order's number.
function Scan({ scan }: { scan: (code: string) => Promise<boolean> }) {
  const { t } = useTranslation();
  const [code, setCode] = useState("");
  return (
    <form
      onSubmit={async (e) => {
        e.preventDefault();
        if (code.trim() && (await scan(code.trim()))) setCode("");
      }}
    >
      <Labelled id="scan" wording={t("Add an order")} help={t("Scan its label, or type its number.")}>
        <div className="row scan">
          <Input id="scan" className="grow" value={code} onChange={(e) => setCode(e.target.value)} />
          <Button htmlType="submit">{t("Add")}</Button>
        </div>
      </Labelled>
    </form>
  );
}

type GroupProps = {
  line: Line;
  files: Upload[];
  by: (f: Upload) => Match["by"];
  how: How;
  set: (how: How) => void;
  given?: Given;
  loose: number;
  take: () => void;
  out: (f: Upload) => void;
};

// Group is an order with the files that it gets.
function Group({ line, files, by, how, set, given, loose, take: takeLoose, out }: GroupProps) {
  const { t } = useTranslation();
  const { today } = useHere();
  const known: Record<NonNullable<Match["by"]>, string> = {
    number: t("by its number"),
    pattern: t("by the pattern"),
    file: t("by the customer’s file"),
    customer: t("by the customer’s name"),
  };
  const gave = given?.state === "given" && files.length === 0;
  return (
    <section
      className={gave ? "sheet stack hand-group gave" : "sheet stack hand-group"}
      data-order={line.number}
    >
      <div className="row">
        <Link to={`/orders/${line.line}`} className="num">
          {line.number}
        </Link>
        <strong>{line.customer}</strong>
        <span className="quiet">{line.title}</span>
        <span className="grow" />
        {line.promised && !gave && (
          <span className="small quiet">{t("promised {{day}}", { day: day(line.promised, today) })}</span>
        )}
        {gave ? (
          <span className="mark good">✓ {t("handed over")}</span>
        ) : given?.state === "going" ? (
          <span className="mark plain">{t("on its way")}</span>
        ) : (
          line.handed && <span className="mark plain">{t("was handed over before")}</span>
        )}
      </div>
      {given?.state === "refused" && <div className="notice bad">{given.message}</div>}
      {!gave && (
        <>
          <div className="hand-files">
            {files.map((f) => {
              const how = by(f);
              return (
                <div key={f.id} className="row hand-file">
                  <Thumb f={f} />
                  <span className="grow">
                    <span className="file-name">{f.name}</span>
                    <span className="small quiet">
                      {size(f.size)}, {how ? known[how] : t("by hand")}
                    </span>
                  </span>
                  <Button
                    size="small"
                    aria-label={t("Take {{what}} out of this order", { what: f.name })}
                    onClick={() => out(f)}
                  >
                    ×
                  </Button>
                </div>
              );
            })}
          </div>
          {files.length === 0 && <div className="small quiet">{t("No file of it yet.")}</div>}
          {loose > 0 && (
            <div>
              <Button size="small" onClick={takeLoose}>
                {t("Take the {{count}} files without an order", { count: loose })}
              </Button>
            </div>
          )}
          <HowGiven of={line} how={how} set={set} />
        </>
      )}
    </section>
  );
}

function Thumb({ f }: { f: Upload }) {
  const [none, setNone] = useState(!f.picture);
  if (none) return <span className="thumb none" aria-hidden="true" />;
  return (
    <span className="thumb">
      <img src={`/api/shop/uploads/${f.id}/thumbnail`} alt="" onError={() => setNone(true)} />
    </span>
  );
}
