import { Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { DecimalBox, FineBox, MoneyBox, WholeBox } from "../../shared/questions/boxes";
import { ConditionEditor } from "../../shared/questions/ConditionEditor";
import { useKinds } from "../../shared/questions/kinds";
import type { Choice } from "../../shared/questions/one_choice/Choices";
import { Bands } from "./Bands";
import type { Charge, Draft, Measure, Question } from "./draft";
import { FormulaField } from "./FormulaField";
import { Specials } from "./Specials";
import { useTrial } from "./trial";

type Props = {
  c: Charge;
  n: number;
  q?: Question;
  draft: Draft;
  linked: Question[];
  digits: number;
  findings: Schemas["Finding"][];
  set: (c: Charge) => void;
  drop: () => void;
};

type Given = "amount" | "difference" | "percent" | "formula" | "answered";

const givenAs = (c: Charge): Given =>
  c.rate.answered
    ? "answered"
    : c.rate.percent !== undefined
      ? "percent"
      : c.rate.formula !== undefined
        ? "formula"
        : c.rate.difference !== undefined
          ? "difference"
          : "amount";

const fresh: Record<Given, Charge["rate"]> = {
  amount: { amount: 100 },
  difference: { difference: 100 },
  percent: { percent: "10" },
  formula: { formula: "list_price / 10" },
  answered: { answered: true },
};

// ChargeEditor edits one charge. Its first line reads it out.
export function ChargeEditor({ c, n, q, draft, linked, digits, findings, set, drop }: Props) {
  const { t } = useTranslation();
  const trial = useTrial();
  const says = trial?.says?.[n - 1];
  const choices = (q?.settings?.choices as Choice[] | undefined) ?? [];
  const given = givenAs(c);
  const unit = q?.scope === "unit";
  return (
    <div className="charge sheet">
      <div className="row">
        <p className="charge-says grow">{says ?? "…"}</p>
        <Button size="small" aria-label={t("Take charge {{n}} away", { n })} onClick={drop}>
          ×
        </Button>
      </div>
      <div className="row">
        {choices.length > 0 && (
          <Select
            aria-label={t("For which choice, charge {{n}}", { n })}
            value={c.choice ?? ""}
            onChange={(v) => set({ ...c, choice: v || undefined })}
            options={[
              { value: "", label: t("any answer") },
              ...choices.map((x) => ({ value: x.code, label: x.label })),
            ]}
          />
        )}
        <Select
          aria-label={t("What charge {{n}} does", { n })}
          value={c.effect}
          onChange={(effect) =>
            set(
              effect === "sets"
                ? {
                    on: c.on,
                    choice: c.choice,
                    when: c.when,
                    label: c.label,
                    also_none: c.also_none,
                    effect,
                    rate: c.rate.percent === undefined ? c.rate : fresh.amount,
                  }
                : { ...c, effect, rate: c.rate.difference === undefined ? c.rate : fresh.amount },
            )
          }
          options={[
            { value: "adds", label: t("adds") },
            { value: "takes_off", label: t("takes off") },
            ...(q ? [{ value: "sets" as const, label: t("sets the price to") }] : []),
          ]}
        />
        <RateBox c={c} n={n} given={given} digits={digits} currency={draft.currency} set={set} />
        <Select
          aria-label={t("How charge {{n}} is given", { n })}
          value={given}
          onChange={(k: Given) =>
            set({
              ...c,
              per: k === "amount" || k === "formula" ? c.per : undefined,
              bands: undefined,
              graduated: undefined,
              prices: k === "amount" ? c.prices : undefined,
              combine: k === "amount" ? c.combine : undefined,
              each_unit: k === "percent" ? undefined : c.each_unit,
              included: k === "amount" || k === "formula" ? c.included : undefined,
              up_to: k === "amount" || k === "formula" ? c.up_to : undefined,
              rate: fresh[k],
            })
          }
          options={[
            { value: "amount", label: t("as an amount") },
            ...(c.effect === "sets"
              ? [{ value: "difference", label: t("as the difference to the list price") }]
              : [{ value: "percent", label: t("per cent") }]),
            ...(unit ? [] : [{ value: "formula", label: t("by a formula") }]),
            ...(q?.kind === "amount" ? [{ value: "answered", label: t("as the customer sets") }] : []),
          ]}
        />
        {given === "percent" && (
          <Select
            aria-label={t("Of what, charge {{n}}", { n })}
            value={c.rate.of_base ? "base" : "all"}
            onChange={(of) => set({ ...c, rate: { ...c.rate, of_base: of === "base" || undefined } })}
            options={[
              { value: "all", label: t("of the price so far") },
              { value: "base", label: t("of the price alone") },
            ]}
          />
        )}
      </div>
      {given === "formula" && (
        <FormulaField
          id={`charge-${n}-formula`}
          label={t("Formula of charge {{n}}", { n })}
          value={c.rate.formula ?? ""}
          onChange={(formula) => set({ ...c, rate: { ...c.rate, formula } })}
          otherwise={c.rate.otherwise}
          setOtherwise={(otherwise) => set({ ...c, rate: { ...c.rate, otherwise } })}
          part="charge"
          n={n}
          findings={findings}
        />
      )}
      {c.effect !== "sets" && given !== "answered" && (
        <Counting c={c} n={n} q={q} measures={trial?.measures ?? []} set={set} />
      )}
      <div className="row">
        <label htmlFor={`charge-${n}-label`}>
          {t("on the slip as")}
          <Input
            id={`charge-${n}-label`}
            value={c.label ?? ""}
            placeholder={q?.wording}
            onChange={(e) => set({ ...c, label: e.target.value || undefined })}
          />
        </label>
        {c.effect !== "sets" && given !== "percent" && !unit && (
          <Checkbox
            checked={c.each_unit ?? false}
            onChange={(e) => set({ ...c, each_unit: e.target.checked || undefined })}
          >
            {t("for each unit")}
          </Checkbox>
        )}
      </div>
      <Finer c={c} n={n} q={q} draft={draft} linked={linked} digits={digits} given={given} set={set} />
    </div>
  );
}

type RateProps = {
  c: Charge;
  n: number;
  given: Given;
  digits: number;
  currency: string;
  set: (c: Charge) => void;
};

function RateBox({ c, n, given, digits, currency, set }: RateProps) {
  const { t } = useTranslation();
  if (given === "percent") {
    return (
      <span className="charge-box">
        <DecimalBox
          id={`charge-${n}-percent`}
          label={t("Per cent of charge {{n}}", { n })}
          suffix="%"
          value={c.rate.percent}
          onChange={(percent) => percent !== undefined && set({ ...c, rate: { ...c.rate, percent } })}
        />
      </span>
    );
  }
  if (given === "difference") {
    const less = (c.rate.difference ?? 0) < 0;
    const put = (size: number, minus: boolean) => set({ ...c, rate: { difference: minus ? -size : size } });
    return (
      <span className="row">
        <Select
          aria-label={t("More or less, charge {{n}}", { n })}
          value={less ? "less" : "more"}
          onChange={(v) => put(Math.abs(c.rate.difference ?? 0), v === "less")}
          options={[
            { value: "more", label: t("the list price +") },
            { value: "less", label: t("the list price −") },
          ]}
        />
        <span className="charge-box">
          <MoneyBox
            id={`charge-${n}-difference`}
            label={t("Difference of charge {{n}}", { n })}
            digits={digits}
            prefix={currency}
            value={Math.abs(c.rate.difference ?? 0)}
            onChange={(a) => a !== undefined && put(a, less)}
          />
        </span>
      </span>
    );
  }
  if (given !== "amount") return null;
  return (
    <span className="charge-box">
      <FineBox
        id={`charge-${n}-amount`}
        label={t("Amount of charge {{n}}", { n })}
        digits={digits}
        prefix={currency}
        value={c.rate.amount}
        onChange={(amount) => amount !== undefined && set({ ...c, rate: { amount } })}
      />
    </span>
  );
}

// useMeasures gives the words for what a line is measured by.
export function useMeasures(): Record<Measure, string> {
  const { t } = useTranslation();
  return { person: t("person"), hour: t("hour"), day: t("day"), night: t("night") };
}

type CountingProps = {
  c: Charge;
  n: number;
  q?: Question;
  measures: Measure[];
  set: (c: Charge) => void;
};

// Counting says what the rate is for each of, and how many are free.
function Counting({ c, n, q, measures, set }: CountingProps) {
  const { t } = useTranslation();
  const names = useMeasures();
  const each = useKinds().kind(q?.kind)?.counts;
  const text =
    each === "character"
      ? [
          { value: "character", label: t("for each letter") },
          { value: "character_spaced", label: t("for each letter and space") },
          { value: "word", label: t("for each word") },
        ]
      : [];
  return (
    <div className="row">
      <Select
        aria-label={t("What charge {{n}} counts", { n })}
        value={c.per ?? ""}
        onChange={(per) =>
          set({
            ...c,
            per: per || undefined,
            // what the old count was called says nothing of the new one
            noun: undefined,
            nouns: undefined,
            times: c.times?.filter((x) => x !== per),
            ...(per ? {} : { bands: undefined, graduated: undefined, included: undefined, up_to: undefined }),
          })
        }
        options={[
          { value: "", label: t("once") },
          ...text,
          ...(each === "answer"
            ? [{ value: "answer", label: c.choice ? t("for each piece of it") : t("for each answered") }]
            : []),
          { value: "unit", label: t("for each unit ordered") },
          ...measures.map((m) => ({ value: m, label: t("for each {{measure}}", { measure: names[m] }) })),
        ]}
      />
      {c.per && (
        <>
          <label htmlFor={`charge-${n}-included`}>
            {t("after the first")}
            <span className="charge-box">
              <WholeBox
                id={`charge-${n}-included`}
                value={c.included}
                onChange={(v) => set({ ...c, included: v || undefined })}
              />
            </span>
          </label>
          <label htmlFor={`charge-${n}-upto`}>
            {t("up to")}
            <span className="charge-box">
              <WholeBox
                id={`charge-${n}-upto`}
                value={c.up_to}
                onChange={(v) => set({ ...c, up_to: v || undefined })}
              />
            </span>
          </label>
          <label htmlFor={`charge-${n}-noun`}>
            {t("one is called")}
            <Input
              id={`charge-${n}-noun`}
              value={c.noun ?? ""}
              onChange={(e) => set({ ...c, noun: e.target.value || undefined })}
            />
          </label>
          <label htmlFor={`charge-${n}-nouns`}>
            {t("several")}
            <Input
              id={`charge-${n}-nouns`}
              value={c.nouns ?? ""}
              onChange={(e) => set({ ...c, nouns: e.target.value || undefined })}
            />
          </label>
        </>
      )}
      {measures
        .filter((m) => m !== c.per)
        .map((m) => (
          <Checkbox
            key={m}
            checked={c.times?.includes(m) ?? false}
            onChange={(e) => {
              const times = (c.times ?? []).filter((x) => x !== m);
              if (e.target.checked) times.push(m);
              set({ ...c, times: times.length > 0 ? times : undefined });
            }}
          >
            {t("per {{measure}}", { measure: names[m] })}
          </Checkbox>
        ))}
    </div>
  );
}

type FinerProps = {
  c: Charge;
  n: number;
  q?: Question;
  draft: Draft;
  linked: Question[];
  digits: number;
  given: Given;
  set: (c: Charge) => void;
};

// Finer holds what few charges need: limits, bands, other prices, conditions, a
// place and a tax of its own.
function Finer({ c, n, q, draft, linked, digits, given, set }: FinerProps) {
  const { t } = useTranslation();
  const adds = c.effect !== "sets" && given !== "answered";
  const counts = useKinds().kind(q?.kind)?.counts === "answer";
  const entries = (q?.settings?.questions as Question[] | undefined) ?? [];
  // It stays open while the last limit is typed anew.
  const [open, setOpen] = useState(
    [c.least, c.most, c.bands, c.prices, c.when, c.entries, c.place, c.tax, c.also_none].some(
      (x) => x !== undefined,
    ),
  );
  return (
    <details className="charge-finer" open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="small">{t("Limits, bands, other prices, conditions, place, tax")}</summary>
      {adds && (
        <div className="row">
          <label htmlFor={`charge-${n}-least`}>
            {t("at least")}
            <span className="charge-box">
              <MoneyBox
                id={`charge-${n}-least`}
                digits={digits}
                prefix={draft.currency}
                value={c.least}
                onChange={(least) => set({ ...c, least })}
              />
            </span>
          </label>
          <label htmlFor={`charge-${n}-most`}>
            {t("at most")}
            <span className="charge-box">
              <MoneyBox
                id={`charge-${n}-most`}
                digits={digits}
                prefix={draft.currency}
                value={c.most}
                onChange={(most) => set({ ...c, most })}
              />
            </span>
          </label>
        </div>
      )}
      {adds && c.per && given === "amount" && (
        <Bands
          id={`charge-${n}`}
          of={t("charge {{n}}", { n })}
          bands={c.bands ?? []}
          graduated={c.graduated}
          included={c.included}
          amount={c.rate.amount}
          digits={digits}
          currency={draft.currency}
          change={(bands, graduated) =>
            set({ ...c, bands, graduated, ...(bands ? { prices: undefined } : {}) })
          }
        />
      )}
      {given === "amount" && !c.bands && (
        <Specials
          id={`charge-${n}-price`}
          prices={c.prices ?? []}
          combine={c.combine}
          change={(prices, combine) => set({ ...c, prices, combine })}
          digits={digits}
          currency={draft.currency}
        />
      )}
      <div className="row">
        {c.effect !== "sets" && !draft.by_hand && (
          <label htmlFor={`charge-${n}-place`}>
            {t("in the slip")}
            <Select
              id={`charge-${n}-place`}
              value={c.place ?? ""}
              onChange={(place) => set({ ...c, place: place || undefined })}
              options={[
                { value: "", label: q ? t("with its question") : t("as it comes") },
                { value: "start", label: t("right after the price") },
                { value: "end", label: t("at the end, on everything") },
              ]}
            />
          </label>
        )}
        {c.effect !== "sets" && (
          <label htmlFor={`charge-${n}-tax`}>
            {t("its own tax")}
            <span className="charge-box">
              <DecimalBox
                id={`charge-${n}-tax`}
                suffix="%"
                value={c.tax}
                onChange={(tax) => set({ ...c, tax })}
              />
            </span>
          </label>
        )}
        {counts && given !== "formula" && (
          <Checkbox
            checked={c.also_none ?? false}
            onChange={(e) => set({ ...c, also_none: e.target.checked || undefined })}
          >
            {t("also when the answer is none")}
          </Checkbox>
        )}
      </div>
      {entries.length > 0 && c.effect !== "sets" && (
        <ConditionEditor
          title={t("Counts only entries")}
          always={t("every one")}
          condition={c.entries}
          questions={entries}
          facts={false}
          change={(next) => set({ ...c, entries: next })}
        />
      )}
      <ConditionEditor
        title={t("Counts only when")}
        condition={c.when}
        questions={[...(draft.questions ?? []), ...linked].filter(
          (x) => x.moment === "choosing" || x.moment === "paying",
        )}
        change={(when) => set({ ...c, when })}
      />
    </details>
  );
}
