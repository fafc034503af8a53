import { Button, Select } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../../shared/Labelled";
import { WholeBox } from "../../../shared/questions/boxes";
import { ConditionEditor } from "../../../shared/questions/ConditionEditor";
import { useKinds } from "../../../shared/questions/kinds";
import type { NamedFormula, Question, Step } from "../draft";
import { choicesOf, entryQuestions, type WithQuestions } from "./parts";

type Minutes = Step["minutes"];

// HowLong asks for the minutes: in any case, for each unit, for each of what an
// answer counts, with particular choices, and by a named value.
export function HowLong({ s, set, asked, values }: WithQuestions & { values: NamedFormula[] }) {
  const { t } = useTranslation();
  const table = useKinds();
  const own = s.for?.each === "entry" ? entryQuestions(asked.find((q) => q.key === s.for?.of)) : [];
  const all = [...own, ...asked.filter((q) => !own.some((o) => o.key === q.key))];
  const countable = all.filter((q) => table.kind(q.kind)?.counts);
  const of = all.find((q) => q.key === s.minutes.of);
  const entries = entryQuestions(of);
  const text = of && table.kind(of.kind)?.counts === "character";
  const minutes = (part: Partial<Minutes>) => set({ minutes: { ...s.minutes, ...part } });
  return (
    <>
      <h3>{t("How long it takes")}</h3>
      <div className="pair three">
        <Labelled id="fixed" wording={t("Minutes in any case")}>
          <WholeBox id="fixed" value={s.minutes.fixed} onChange={(n) => minutes({ fixed: n || undefined })} />
        </Labelled>
        <Labelled id="unit" wording={s.for?.each === "unit" ? t("and for the unit") : t("and for each unit")}>
          <WholeBox id="unit" value={s.minutes.unit} onChange={(n) => minutes({ unit: n || undefined })} />
        </Labelled>
        <Labelled
          id="each"
          wording={
            text
              ? s.minutes.per === "word"
                ? t("and for each word of")
                : t("and for each letter of")
              : t("and for each of")
          }
        >
          <WholeBox id="each" value={s.minutes.each} onChange={(n) => minutes({ each: n || undefined })} />
          <Select
            aria-label={t("Counted answer")}
            className="full"
            allowClear
            value={s.minutes.of}
            onChange={(key?: string) => {
              const q = countable.find((x) => x.key === key);
              minutes({ of: q?.key, per: q && table.kind(q.kind)?.counts });
            }}
            options={countable.map((q) => ({ value: q.key, label: q.wording }))}
          />
          {text && (
            <Select
              aria-label={t("Counted in the text")}
              className="full"
              value={s.minutes.per}
              onChange={(per) => minutes({ per })}
              options={[
                { value: "character", label: t("letters") },
                { value: "word", label: t("words") },
              ]}
            />
          )}
        </Labelled>
      </div>
      {entries.length > 0 && (s.minutes.each ?? 0) > 0 && (
        <ConditionEditor
          title={t("Only for entries")}
          always={t("every one")}
          condition={s.minutes.entries}
          questions={entries}
          facts={false}
          change={(next) => minutes({ entries: next })}
        />
      )}
      <Longer minutes={s.minutes} set={minutes} asked={all.filter((q) => choicesOf(q).length > 0)} />
      {values.length > 0 && (
        <Labelled
          id="minutes-value"
          wording={t("and as many minutes as a value comes to")}
          help={t("Values are named formulas of the product’s prices.")}
        >
          <Select
            id="minutes-value"
            allowClear
            value={s.minutes.value}
            onChange={(value?: string) => minutes({ value })}
            options={values.map((v) => ({ value: v.name, label: v.title || v.name }))}
          />
        </Labelled>
      )}
    </>
  );
}

type LongerProps = { minutes: Minutes; set: (part: Partial<Minutes>) => void; asked: Question[] };

// Longer lists the choices with which it takes longer.
function Longer({ minutes, set, asked }: LongerProps) {
  const { t } = useTranslation();
  const list = minutes.choices ?? [];
  if (asked.length === 0) return null;
  const options = asked.map((q) => ({
    label: q.wording,
    options: choicesOf(q).map((c) => ({ value: `${q.key} ${c.code}`, label: `${q.wording}: ${c.label}` })),
  }));
  const change = (i: number, part: Partial<(typeof list)[number]>) =>
    set({ choices: list.map((c, k) => (k === i ? { ...c, ...part } : c)) });
  return (
    <div className="stack">
      {list.map((c, i) => (
        <div className="row" key={`${c.of} ${c.code}`}>
          <Select
            aria-label={t("With the choice")}
            className="grow"
            value={`${c.of} ${c.code}`}
            onChange={(next: string) => {
              const [of = "", code = ""] = next.split(" ");
              change(i, { of, code });
            }}
            options={options}
          />
          <span className="narrow">
            <WholeBox
              id={`longer-${i}`}
              label={t("minutes longer")}
              suffix="min"
              value={c.minutes}
              onChange={(n) => change(i, { minutes: n ?? 0 })}
            />
          </span>
          <Button
            aria-label={t("Take away")}
            onClick={() => set({ choices: list.filter((_, k) => k !== i) })}
          >
            ×
          </Button>
        </div>
      ))}
      <div>
        <Button
          size="small"
          onClick={() => {
            const free = options
              .flatMap((o) => o.options)
              .find((o) => !list.some((c) => `${c.of} ${c.code}` === o.value));
            const [of = "", code = ""] = (free?.value ?? "").split(" ");
            if (free) set({ choices: [...list, { of, code, minutes: 10 }] });
          }}
        >
          {t("Longer with a choice")}
        </Button>
      </div>
    </div>
  );
}
