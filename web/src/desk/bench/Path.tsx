import { useSortable } from "@dnd-kit/sortable";
import { Button, Select } from "antd";
import { memo, type ReactNode, useMemo, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { plain } from "../../shared/format";
import { kinds } from "../../shared/questions/editors";
import { useKinds } from "../../shared/questions/kinds";
import { Sortable, SortableRow } from "../../shared/Sortable";
import {
  addQuestion,
  type Charge,
  type Draft,
  flat,
  keyOf,
  leaveSheet,
  linkSheet,
  type Moment,
  moments,
  moveQuestion,
  ordered,
  placeQuestion,
  type Question,
  type Selected,
  type Step,
} from "./draft";
import { Picker } from "./Picker";

type Props = {
  draft: Draft;
  change: (draft: Draft) => void;
  selected: Selected;
  select: (s: Selected) => void;
  findings: Schemas["Finding"][];
  efforts?: Schemas["Effort"][];
  // questions that sheets bring in
  linked?: Question[];
  sheets?: Schemas["SheetRow"][];
  // the path of a sheet has questions only
  questionsOnly?: boolean;
};

// Path shows the four moments as stations on a line, each with its questions,
// and after them the work plan.
export function Path({
  draft,
  change,
  selected,
  select,
  findings,
  efforts,
  linked = [],
  sheets = [],
  questionsOnly,
}: Props) {
  const { t } = useTranslation();
  const table = useKinds();
  const names: Record<Moment, string> = {
    choosing: t("Choosing"),
    paying: t("Paying"),
    briefing: t("After paying"),
    desk: t("Only at the desk"),
  };
  const wrong = (part: string, key: string) =>
    findings.some((f) => f.error && f.part === part && f.key === key);
  const on = (part: string, key?: string) =>
    selected.part === part && (!("key" in selected) || selected.key === key);
  const questions = ordered(draft);
  const steps = draft.steps ?? [];
  // The same list while nothing moves, so that the rows are not drawn again.
  const walked = flat(draft).join(" ");
  const path = useMemo(() => walked.split(" "), [walked]);
  const [adding, setAdding] = useState<Moment>();
  const nameOf = (q?: Question) => q?.wording || t("Note");
  const latest = useRef({ draft, change, select });
  latest.current = { draft, change, select };
  const [calls] = useState(() => ({
    select: (key: string) => latest.current.select({ part: "question", key }),
    move: (key: string, by: 1 | -1) => latest.current.change(moveQuestion(latest.current.draft, key, by)),
  }));
  const row = (q: Question) => (
    <QuestionRow
      key={q.key}
      id={q.key}
      name={nameOf(q)}
      className={`path-line${q.section ? " inner" : ""}${q.off ? " off" : ""}`}
      on={on("question", q.key)}
      wrong={wrong("question", q.key)}
      when={q.when !== undefined}
      side={q.off ? t("off") : price(draft, q) || t(kinds[q.kind]?.name ?? q.kind)}
      select={calls.select}
      move={calls.move}
    />
  );
  const add = (moment: Moment, kind: string, settings = kinds[kind]?.begin?.(t)) => {
    const name = t(kinds[kind]?.name ?? kind);
    const key = keyOf(name, [...[...questions, ...linked].map((q) => q.key), ...table.reserved]);
    change(
      addQuestion(draft, {
        key,
        kind,
        moment,
        wording: kind === "note" ? "" : name,
        ...(settings ? { settings } : {}),
      }),
    );
    select({ part: "question", key });
  };
  const addStep = () => {
    const key = keyOf(
      t("Step"),
      steps.map((s) => s.key),
    );
    const step: Step = {
      key,
      title: t("New step"),
      minutes: { fixed: 15 },
      start: { on: "payment" },
      due: { rule: "working_days", count: 1 },
    };
    change({ ...draft, steps: [...steps, step] });
    select({ part: "step", key });
  };
  const moveStep = (i: number, by: number) => {
    const s = steps[i];
    if (s && i + by >= 0 && i + by < steps.length)
      change({ ...draft, steps: steps.toSpliced(i, 1).toSpliced(i + by, 0, s) });
  };
  return (
    <nav className="path" aria-label={t("The path")}>
      {!questionsOnly && (
        <>
          <button
            type="button"
            className={on("product") ? "path-row on" : "path-row"}
            onClick={() => select({ part: "product" })}
          >
            <span>{t("The product itself")}</span>
          </button>
          <button
            type="button"
            className={on("price") ? "path-row on" : "path-row"}
            onClick={() => select({ part: "price" })}
          >
            <span>{t("Price and payment")}</span>
            <span className="path-side num">{draft.price > 0 ? plain(draft.price, draft.currency) : ""}</span>
          </button>
          <button
            type="button"
            className={on("booking") ? "path-row on" : "path-row"}
            onClick={() => select({ part: "booking" })}
          >
            <span>{t("When it can be booked")}</span>
            <span className="path-side">
              {draft.booking ? t("{{count}} places", { count: draft.booking.places }) : t("not bookable")}
            </span>
          </button>
        </>
      )}
      <Sortable
        ids={path}
        move={(from, to) => change(placeQuestion(draft, from, to))}
        name={(id) => nameOf(questions.find((q) => q.key === id))}
      >
        {moments.map((moment) => {
          const effort = efforts?.find((e) => e.moment === moment);
          return (
            <section key={moment} className="station">
              <Station id={`@${moment}`}>
                <h3>{names[moment]}</h3>
                {effort && effort.fields > 0 && (
                  <span className="small quiet num">
                    {t("{{count}} fields", { count: effort.fields })} ·{" "}
                    {t("about {{seconds}} s", { seconds: effort.seconds })}
                  </span>
                )}
              </Station>
              {path
                .map((key) => questions.find((q) => q.key === key))
                .filter((q) => q?.moment === moment)
                .map((q) => q && row(q))}
              {linked
                .filter((q) => q.moment === moment)
                .map((q) => (
                  <button
                    key={`${q.sheet}${q.key}`}
                    type="button"
                    className={`path-row linked${on("question", q.key) ? " on" : ""}${q.off ? " off" : ""}`}
                    aria-current={on("question", q.key) || undefined}
                    onClick={() => select({ part: "question", key: q.key })}
                  >
                    <span>
                      {wrong("question", q.key) && <span className="path-wrong">▲ </span>}
                      {nameOf(q)}
                    </span>
                    <span className="path-side">
                      {sheets.find((s) => s.id === q.sheet)?.name ?? t("sheet")}
                    </span>
                  </button>
                ))}
              <Button size="small" className="path-add" onClick={() => setAdding(moment)}>
                {t("Add a question")}
                <span className="sr"> {names[moment]}</span>
              </Button>
            </section>
          );
        })}
      </Sortable>
      {adding && (
        <Picker
          choose={(kind, settings) => {
            if (kind) add(adding, kind, settings);
            setAdding(undefined);
          }}
        />
      )}
      {!questionsOnly && (
        <>
          <section className="path-sheets">
            <Select
              size="small"
              aria-label={t("Use a sheet")}
              placeholder={t("Use a sheet …")}
              value={null}
              notFoundContent={t("No other sheet is published.")}
              onChange={(id: number | null) => id && change(linkSheet(draft, id))}
              options={sheets
                .filter((s) => s.published && !linked.some((q) => q.sheet === s.id))
                .map((s) => ({ value: s.id, label: s.name }))}
            />
            {[...new Set(linked.map((q) => q.sheet ?? 0))].map((id) => {
              const name = sheets.find((s) => s.id === id)?.name ?? t("sheet");
              return (
                <div key={id} className="row small">
                  <Link to={`/sheets/${id}`} className="grow">
                    {name}
                  </Link>
                  <Button
                    size="small"
                    aria-label={t("Leave the sheet {{name}}", { name })}
                    onClick={() => change(leaveSheet(draft, id))}
                  >
                    ×
                  </Button>
                </div>
              );
            })}
          </section>
          <section className="station last">
            <h3>{t("Work plan")}</h3>
            {steps.map((s, i) => (
              <div key={s.key} className={s.when ? "path-line inner" : "path-line"}>
                <button
                  type="button"
                  className={on("step", s.key) ? "path-row on" : "path-row"}
                  aria-current={on("step", s.key) || undefined}
                  onClick={() => select({ part: "step", key: s.key })}
                >
                  <span>
                    {wrong("step", s.key) && <span className="path-wrong">▲ </span>}
                    {s.title}
                  </span>
                  <span className="path-side num">{minutes(s)}</span>
                </button>
                <Movers what={s.title} up={() => moveStep(i, -1)} down={() => moveStep(i, 1)} />
              </div>
            ))}
            <Button size="small" onClick={addStep}>
              {t("Add a step")}
            </Button>
          </section>
        </>
      )}
    </nav>
  );
}

type RowProps = {
  id: string;
  name: string;
  className: string;
  on: boolean;
  wrong: boolean;
  when: boolean;
  side: string;
  select: (key: string) => void;
  move: (key: string, by: 1 | -1) => void;
};

// QuestionRow is a question on the path. A product can have hundreds, so a row
// is drawn again only when it changes.
const QuestionRow = memo(function QuestionRow(r: RowProps) {
  const { t } = useTranslation();
  return (
    <SortableRow id={r.id} name={r.name} className={r.className}>
      <button
        type="button"
        className={r.on ? "path-row on" : "path-row"}
        aria-current={r.on || undefined}
        onClick={() => r.select(r.id)}
        onKeyDown={(e) => {
          if (!e.altKey || (e.key !== "ArrowUp" && e.key !== "ArrowDown")) return;
          e.preventDefault();
          r.move(r.id, e.key === "ArrowUp" ? -1 : 1);
        }}
      >
        <span>
          {r.wrong && <span className="path-wrong">▲ </span>}
          {r.when && (
            <span className="quiet" title={t("asked under a condition")}>
              {t("if")}{" "}
            </span>
          )}
          {r.name}
        </span>
        <span className="path-side num">{r.side}</span>
      </button>
    </SortableRow>
  );
});

// Station is the head of a moment, over which questions can be dropped.
function Station({ id, children }: { id: string; children: ReactNode }) {
  const { setNodeRef, transform } = useSortable({ id, disabled: { draggable: true } });
  return (
    <div
      ref={setNodeRef}
      className="row station-head"
      style={transform ? { transform: `translateY(${Math.round(transform.y)}px)` } : undefined}
    >
      {children}
    </div>
  );
}

function Movers({ what, up, down }: { what: string; up: () => void; down: () => void }) {
  const { t } = useTranslation();
  return (
    <span className="movers">
      <button type="button" aria-label={t("Move {{what}} up", { what })} onClick={up}>
        ↑
      </button>
      <button type="button" aria-label={t("Move {{what}} down", { what })} onClick={down}>
        ↓
      </button>
    </span>
  );
}

// price says in short what a question does to the price, from what is typed.
function price(draft: Draft, q: Question): string {
  const on = (draft.charges ?? []).filter((c) => c.on === q.key);
  const first = on[0];
  if (!first) return "";
  const amounts = on.map((c) => c.rate.amount).filter((a) => a !== undefined);
  if (first.choice && amounts.length > 1) {
    return `${plain(Math.min(...amounts), draft.currency)} – ${plain(Math.max(...amounts), draft.currency)}`;
  }
  return short(first, draft);
}

function short(c: Charge, draft: Draft): string {
  const sign = c.effect === "adds" ? "+" : c.effect === "takes_off" ? "−" : "";
  if (c.rate.percent !== undefined) return `${sign}${c.rate.percent} %`;
  if (c.rate.amount !== undefined)
    return `${sign}${plain(c.rate.amount, draft.currency)}${c.noun ? ` / ${c.noun}` : ""}`;
  return "";
}

function minutes(s: Step): string {
  const m = s.minutes;
  const parts = [m.fixed && `${m.fixed}`, m.unit && `${m.unit}/×`, m.each && `${m.each}/…`].filter(Boolean);
  return `${parts.join(" + ") || "0"} min`;
}
