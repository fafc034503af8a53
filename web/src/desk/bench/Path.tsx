import { useSortable } from "@dnd-kit/sortable";
import { Button } from "antd";
import { memo, type ReactNode, useMemo, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
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
  type Moment,
  moments,
  moveQuestion,
  ordered,
  placeQuestion,
  type Question,
  type Selected,
} from "./draft";
import { PathSheets, PathSteps } from "./PathPlan";
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
  // the path of a sheet has questions and steps only
  ofSheet?: boolean;
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
  ofSheet,
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
  return (
    <nav className="path" aria-label={t("The path")}>
      {!ofSheet && (
        <>
          <WholeRow on={on("product")} select={() => select({ part: "product" })}>
            <span>{t("The product itself")}</span>
          </WholeRow>
          <WholeRow on={on("price")} select={() => select({ part: "price" })}>
            <span>{t("Price and payment")}</span>
            <span className="path-side num">{draft.price > 0 ? plain(draft.price, draft.currency) : ""}</span>
          </WholeRow>
          <WholeRow on={on("booking")} select={() => select({ part: "booking" })}>
            <span>{t("When it can be booked")}</span>
            <span className="path-side">
              {!draft.booking
                ? t("not bookable")
                : draft.booking.by
                  ? { nights: t("nights"), days: t("days"), course: t("courses") }[draft.booking.by]
                  : t("{{count}} places", { count: draft.booking.places })}
            </span>
          </WholeRow>
        </>
      )}
      {ofSheet && (
        <WholeRow on={on("price")} select={() => select({ part: "price" })}>
          <span>{t("Named values for formulas")}</span>
          <span className="path-side num">{draft.values?.length || ""}</span>
        </WholeRow>
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
                  <LinkedRow
                    key={`${q.sheet}${q.key}`}
                    q={q}
                    name={nameOf(q)}
                    sheet={sheets.find((s) => s.id === q.sheet)?.name}
                    on={on("question", q.key)}
                    wrong={wrong("question", q.key)}
                    select={() => select({ part: "question", key: q.key })}
                  />
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
      {!ofSheet && <PathSheets draft={draft} change={change} linked={linked} sheets={sheets} />}
      <PathSteps draft={draft} change={change} select={select} on={on} wrong={wrong} />
    </nav>
  );
}

function WholeRow({ on, select, children }: { on: boolean; select: () => void; children: ReactNode }) {
  return (
    <button type="button" className={on ? "path-row on" : "path-row"} onClick={select}>
      {children}
    </button>
  );
}

type LinkedRowProps = {
  q: Question;
  name: string;
  sheet: string | undefined;
  on: boolean;
  wrong: boolean;
  select: () => void;
};

// LinkedRow is a question that a sheet brings in.
function LinkedRow({ q, name, sheet, on, wrong, select }: LinkedRowProps) {
  const { t } = useTranslation();
  return (
    <button
      type="button"
      className={`path-row linked${on ? " on" : ""}${q.off ? " off" : ""}`}
      aria-current={on || undefined}
      onClick={select}
    >
      <span>
        {wrong && <span className="path-wrong">▲ </span>}
        {name}
      </span>
      <span className="path-side">{sheet ?? t("sheet")}</span>
    </button>
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
