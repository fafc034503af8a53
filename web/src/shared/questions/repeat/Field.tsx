import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../api/client";
import { QuestionField } from "../QuestionField";
import { type FieldProps, partOf, type Question } from "../types";

type Entry = Record<string, unknown>;

// A list of entries. One is open at a time; the others show what they hold.
export function Field({ id, q, value, onChange, page, faults, disabled }: FieldProps) {
  const { t } = useTranslation();
  const set = q.settings as { least?: number; most?: number; entry?: string; questions?: Inner[] };
  const questions = (set.questions ?? []).map((x) => viewOf(x, q));
  const entries = Array.isArray(value) ? (value as Entry[]) : [];
  const [open, setOpen] = useState(entries.length === 0 ? 0 : -1);
  const name = set.entry || t("entry");
  const wrong = faults.find((f) => f.path === "");
  const change = (i: number, key: string, v: unknown) => {
    const entry = { ...entries[i] };
    if (v === null) delete entry[key];
    else entry[key] = v;
    onChange(entries.with(i, entry));
  };
  const move = (i: number, by: number) => {
    const e = entries[i];
    if (!e) return;
    onChange(entries.toSpliced(i, 1).toSpliced(i + by, 0, e));
    if (open === i) setOpen(i + by);
  };
  return (
    <fieldset id={id} className="bare repeat" aria-labelledby={`${id}-label`}>
      {entries.map((entry, i) => {
        const bad = partOf(faults, String(i));
        const what = `${name} ${i + 1}`;
        const spread = open === i || bad.length > 0;
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: an entry is known by its place
          <section key={i} className="entry" aria-label={what}>
            <div className="row entry-head">
              <button
                type="button"
                className="linkish entry-title"
                aria-expanded={spread}
                onClick={() => setOpen(spread ? -1 : i)}
              >
                {what}
              </button>
              <span className="grow quiet small entry-summary">
                {spread ? "" : summary(entry, questions)}
              </span>
              <Button
                size="small"
                aria-label={t("Move {{what}} up", { what })}
                disabled={disabled || i === 0}
                onClick={() => move(i, -1)}
              >
                ↑
              </Button>
              <Button
                size="small"
                aria-label={t("Move {{what}} down", { what })}
                disabled={disabled || i === entries.length - 1}
                onClick={() => move(i, 1)}
              >
                ↓
              </Button>
              <Button
                size="small"
                aria-label={t("Take {{what}} away", { what })}
                disabled={disabled}
                onClick={() => {
                  const next = entries.toSpliced(i, 1);
                  onChange(next.length === 0 ? null : next);
                  setOpen(-1);
                }}
              >
                ×
              </Button>
            </div>
            {spread &&
              questions.map((inner) => (
                <QuestionField
                  key={inner.key}
                  prefix={`${id}-${i}`}
                  q={inner}
                  page={page}
                  value={entry[inner.key] ?? null}
                  onChange={(v) => change(i, inner.key, v)}
                  faults={partOf(bad, inner.key)}
                  disabled={disabled}
                />
              ))}
          </section>
        );
      })}
      <Button
        disabled={disabled || entries.length >= (set.most ?? 30)}
        onClick={() => {
          onChange([...entries, {}]);
          setOpen(entries.length);
        }}
      >
        + {name}
      </Button>
      {wrong && (
        <div className="question-fault" role="alert">
          {wrong.message}
        </div>
      )}
    </fieldset>
  );
}

type Inner = Schemas["DraftQuestion"];

// viewOf shows a question of an entry the way that a product page shows its own.
function viewOf(inner: Inner, of: Question): Question {
  const extras = of.extra?.questions as Record<string, Question["extra"]> | undefined;
  return {
    key: inner.key,
    kind: inner.kind,
    moment: of.moment,
    wording: inner.wording,
    help: inner.help,
    required: inner.required ?? false,
    later: false,
    half: inner.half,
    settings: inner.settings ?? {},
    extra: extras?.[inner.key],
    hint: "",
    choice_hints: {},
  };
}

// summary shows in short what an entry holds, as it was typed.
function summary(entry: Entry, questions: Question[]) {
  return questions
    .map((q) => {
      const v = entry[q.key];
      const choices = q.settings.choices as { code: string; label: string }[] | undefined;
      if (typeof v === "string") return choices?.find((c) => c.code === v)?.label ?? v;
      return typeof v === "number" ? String(v) : "";
    })
    .filter(Boolean)
    .join(", ");
}
