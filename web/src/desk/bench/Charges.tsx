import { Button, Checkbox, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { DecimalBox, MoneyBox, WholeBox } from "../../shared/questions/boxes";
import { kinds } from "../../shared/questions/editors";
import type { Choice } from "../../shared/questions/one_choice/Choices";
import type { Charge, Draft, Question } from "./draft";
import { Findings } from "./Findings";

type Props = {
  draft: Draft;
  change: (draft: Draft) => void;
  q: Question;
  digits: number;
  findings: Schemas["Finding"][];
};

// Charges edits what a question's answer does to the price, each charge as a
// sentence: "Adds 0.60 for each letter after 24".
export function Charges({ draft, change, q, digits, findings }: Props) {
  const { t } = useTranslation();
  const all = draft.charges ?? [];
  const set = (i: number, c: Charge) => change({ ...draft, charges: all.with(i, c) });
  const add = () => {
    const rate = q.kind === "amount" ? { answered: true } : { amount: 100 };
    change({ ...draft, charges: [...all, { on: q.key, effect: "adds", rate }] });
  };
  return (
    <section className="charges">
      <h3>{t("What it does to the price")}</h3>
      {all.map((c, i) =>
        c.on === q.key ? (
          // biome-ignore lint/suspicious/noArrayIndexKey: a charge is known by its place
          <div key={i}>
            <ChargeEditor
              c={c}
              n={i + 1}
              q={q}
              digits={digits}
              currency={draft.currency}
              set={(next) => set(i, next)}
              drop={() => change({ ...draft, charges: all.toSpliced(i, 1) })}
            />
            <Findings findings={findings.filter((f) => f.part === "charge" && f.key === String(i + 1))} />
          </div>
        ) : null,
      )}
      {!all.some((c) => c.on === q.key) && <p className="quiet small">{t("Nothing: the answer is free.")}</p>}
      <Button size="small" onClick={add}>
        {t("Add a charge")}
      </Button>
    </section>
  );
}

type OneProps = {
  c: Charge;
  n: number;
  q: Question;
  digits: number;
  currency: string;
  set: (c: Charge) => void;
  drop: () => void;
};

function ChargeEditor({ c, n, q, digits, currency, set, drop }: OneProps) {
  const { t } = useTranslation();
  const choices = (q.settings?.choices as Choice[] | undefined) ?? [];
  const kind = c.rate.answered ? "answered" : c.rate.percent !== undefined ? "percent" : "amount";
  const counts = kind === "amount" && c.effect !== "sets";
  const each = kinds[q.kind]?.counts;
  return (
    <div className="charge sheet">
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
                ? { ...c, effect, per: undefined, included: undefined, up_to: undefined }
                : { ...c, effect },
            )
          }
          options={[
            { value: "adds", label: t("adds") },
            { value: "takes_off", label: t("takes off") },
            { value: "sets", label: t("sets the price to") },
          ]}
        />
        {kind === "amount" && (
          <span className="charge-box">
            <MoneyBox
              id={`charge-${n}-amount`}
              label={t("Amount of charge {{n}}", { n })}
              digits={digits}
              prefix={currency}
              value={c.rate.amount}
              onChange={(a) => a !== undefined && set({ ...c, rate: { amount: a } })}
            />
          </span>
        )}
        {kind === "percent" && (
          <span className="charge-box">
            <DecimalBox
              id={`charge-${n}-percent`}
              label={t("Per cent of charge {{n}}", { n })}
              suffix="%"
              value={c.rate.percent}
              onChange={(p) => p !== undefined && set({ ...c, rate: { percent: p } })}
            />
          </span>
        )}
        <Select
          aria-label={t("How charge {{n}} is given", { n })}
          value={kind}
          onChange={(k) =>
            set({
              ...c,
              per: undefined,
              rate:
                k === "amount" ? { amount: 100 } : k === "percent" ? { percent: "10" } : { answered: true },
            })
          }
          options={[
            { value: "amount", label: t("as an amount") },
            { value: "percent", label: t("per cent"), disabled: c.effect === "sets" },
            { value: "answered", label: t("as the customer sets"), disabled: q.kind !== "amount" },
          ]}
        />
        {counts && each && (
          <Select
            aria-label={t("What charge {{n}} counts", { n })}
            value={c.per ?? ""}
            onChange={(per) => set({ ...c, per: per || undefined })}
            options={[
              { value: "", label: t("once") },
              { value: each, label: each === "character" ? t("for each letter") : t("for each answered") },
            ]}
          />
        )}
        <span className="grow" />
        <Button size="small" aria-label={t("Take charge {{n}} away", { n })} onClick={drop}>
          ×
        </Button>
      </div>
      <div className="row">
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
        <label htmlFor={`charge-${n}-label`}>
          {t("on the slip as")}
          <Input
            id={`charge-${n}-label`}
            value={c.label ?? ""}
            placeholder={q.wording}
            onChange={(e) => set({ ...c, label: e.target.value || undefined })}
          />
        </label>
        {c.effect !== "sets" && kind !== "percent" && (
          <Checkbox
            checked={c.each_unit ?? false}
            onChange={(e) => set({ ...c, each_unit: e.target.checked || undefined })}
          >
            {t("for each unit")}
          </Checkbox>
        )}
      </div>
    </div>
  );
}
