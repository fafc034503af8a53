import { Button, Checkbox } from "antd";
import { memo, Suspense, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../api/client";
import type { DaysSource } from "../days/source";
import { boxed, fields, nested, shown } from "./fields";
import { type Asked, type Fault, partOf, type Question } from "./types";
import "./questions.css";

type Props = {
  q: Question;
  value: unknown;
  onChange: (value: unknown) => void;
  page: Schemas["ProductPage"];
  days?: DaysSource;
  asked?: Asked;
  faults?: Fault[];
  disabled?: boolean;
  // of the order line; a question of each unit is asked so many times
  quantity?: number;
  // where the question may be left until later
  later?: { on: boolean; set: (on: boolean) => void; words?: string };
  // what is kept of a person who ordered before
  known?: { words: string; take: () => void };
  prefix?: string;
};

// QuestionField shows one question: wording, what it does to the price, help,
// the field of its kind, and what is wrong with the answer. In forms of
// hundreds of questions, only those that changed are drawn again: what they
// call is handed on by reference, so that it is always the newest.
export function QuestionField(p: Props) {
  const newest = useRef(p);
  newest.current = p;
  const [calls] = useState(() => ({
    onChange: (value: unknown) => newest.current.onChange(value),
    setLater: (on: boolean) => newest.current.later?.set(on),
    take: () => newest.current.known?.take(),
  }));
  const { later, known, ...rest } = p;
  return (
    <Drawn
      {...rest}
      onChange={calls.onChange}
      later={later && { on: later.on, set: calls.setLater, words: later.words }}
      known={known && { words: known.words, take: calls.take }}
    />
  );
}

const same = (a: unknown, b: unknown) => a === b || JSON.stringify(a) === JSON.stringify(b);

// unchanged says whether a question would be drawn the same. Of its page, a
// field reads only what belongs to the product as a whole.
function unchanged(a: Props, b: Props): boolean {
  return (
    a.q === b.q &&
    a.value === b.value &&
    a.asked === b.asked &&
    a.days === b.days &&
    a.disabled === b.disabled &&
    a.quantity === b.quantity &&
    a.later?.on === b.later?.on &&
    a.later?.words === b.later?.words &&
    a.known?.words === b.known?.words &&
    a.page.edition === b.page.edition &&
    a.page.currency === b.page.currency &&
    same(a.page.people, b.page.people) &&
    same(a.faults, b.faults)
  );
}

const Drawn = memo(function Drawn(p: Props) {
  const { q, page, later, known, disabled, prefix, faults = [] } = p;
  const { t } = useTranslation();
  const Field = fields[q.kind];
  if (!Field || (q.kind === "link_value" && q.settings.hidden)) return null;
  const id = `${prefix ?? "q"}-${q.key}`;
  const common = { id, q, page, days: p.days, asked: p.asked, faults, disabled };
  if (shown.has(q.kind)) return <Field {...common} value={null} onChange={p.onChange} />;
  const perUnit = q.scope === "unit";
  const ownFault =
    faults.find((f) => f.path === "") ?? (nested.has(q.kind) || perUnit ? undefined : faults[0]);
  const describedBy =
    [q.help && `${id}-help`, ownFault && `${id}-fault`].filter(Boolean).join(" ") || undefined;
  const single = boxed.has(q.kind) && (!perUnit || (p.quantity ?? 1) <= 1);
  const Label = single ? "label" : "div";
  return (
    <div className={q.half ? "question half" : "question"} data-question={q.key}>
      <Label
        id={`${id}-label`}
        {...(single ? { htmlFor: perUnit ? `${id}-0` : id } : {})}
        className="question-wording"
      >
        {q.wording}
        {q.hint && <span className="question-hint num"> {q.hint}</span>}
        {!q.required && (
          <span className="question-hint">
            {q.hint ? " · " : " "}
            {t("optional")}
          </span>
        )}
      </Label>
      {q.help && (
        <div id={`${id}-help`} className="small quiet question-help">
          {q.help}
        </div>
      )}
      {known && !later?.on && (
        <div className="row small known">
          <span className="quiet">{t("last time: {{words}}", { words: known.words })}</span>
          <button type="button" className="linkish" onClick={known.take}>
            {t("Use it again")}
            <span className="sr"> {q.wording}</span>
          </button>
        </div>
      )}
      <Suspense>
        {!later?.on &&
          (perUnit ? (
            <Units {...p} Field={Field} id={id} faults={faults} />
          ) : (
            <Field
              {...common}
              value={p.value}
              onChange={p.onChange}
              describedBy={describedBy}
              invalid={faults.length > 0}
            />
          ))}
      </Suspense>
      {later && (
        <Checkbox
          checked={later.on}
          disabled={disabled}
          onChange={(e) => later.set(e.target.checked)}
          className="question-later"
        >
          {later.words ?? t("I will tell you later")}
        </Checkbox>
      )}
      {ownFault && !(q.kind === "repeat" && !perUnit) && (
        <div id={`${id}-fault`} className="question-fault" role="alert">
          {ownFault.message}
        </div>
      )}
    </div>
  );
}, unchanged);

// Units asks once for each unit of the order line.
function Units(p: Props & { Field: (typeof fields)[string]; id: string; faults: Fault[] }) {
  const { t } = useTranslation();
  const { q, page, faults, disabled, id, Field } = p;
  const many = Math.max(p.quantity ?? 1, 1);
  const values = Array.isArray(p.value) ? p.value : [];
  const set = (i: number, v: unknown) => {
    const next = Array.from({ length: Math.max(many, values.length) }, (_, n) =>
      n === i ? v : (values[n] ?? null),
    );
    p.onChange(next.every((x) => x === null) ? null : next);
  };
  const first = values[0] ?? null;
  return (
    <>
      {Array.from({ length: many }, (_, i) => {
        const wrong = partOf(faults, String(i));
        const unit = `${id}-${i}`;
        const field = (
          <Field
            id={unit}
            q={q}
            page={page}
            value={values[i] ?? null}
            onChange={(v) => set(i, v)}
            faults={wrong}
            invalid={wrong.length > 0}
            disabled={disabled}
            describedBy={wrong.length > 0 ? `${unit}-fault` : undefined}
          />
        );
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a unit is known by its place
          <div key={i} className={many > 1 ? "unit" : undefined}>
            {many > 1 && (
              <label id={`${unit}-label`} htmlFor={unit} className="small quiet">
                {t("{{i}} of {{many}}", { i: i + 1, many })}
                <span className="sr"> {q.wording}</span>
              </label>
            )}
            {field}
            {!nested.has(q.kind) && wrong[0] && (
              <div id={`${unit}-fault`} className="question-fault" role="alert">
                {wrong[0].message}
              </div>
            )}
          </div>
        );
      })}
      {many > 1 && first !== null && !disabled && (
        <Button size="small" onClick={() => p.onChange(Array.from({ length: many }, () => first))}>
          {t("Copy the first to all")}
        </Button>
      )}
    </>
  );
}
