import { Button, Input, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { Labelled } from "../../shared/Labelled";
import { WholeBox } from "../../shared/questions/boxes";
import { ConditionEditor } from "../../shared/questions/ConditionEditor";
import { shown } from "../../shared/questions/fields";
import { useKinds } from "../../shared/questions/kinds";
import type { Draft, Question, Selected, Step } from "./draft";
import { Findings } from "./Findings";
import { KeyField } from "./KeyField";

type Props = {
  draft: Draft;
  change: (draft: Draft) => void;
  at: string;
  select: (s: Selected) => void;
  findings: Schemas["Finding"][];
};

export function StepEditor({ draft, change, at, select, findings }: Props) {
  const { t } = useTranslation();
  const [key, setKey] = useState(at);
  const table = useKinds();
  const steps = draft.steps ?? [];
  const s = steps.find((x) => x.key === at);
  if (!s) return <div className="empty">{t("Select a question or a step.")}</div>;
  const set = (part: Partial<Step>) =>
    change({ ...draft, steps: steps.map((x) => (x.key === at ? { ...x, ...part } : x)) });
  const asked = (draft.questions ?? []).filter((q) => !shown.has(q.kind));
  const badKey = !table.keyed(key) || steps.some((x) => x.key === key && x.key !== at);
  const rename = () => {
    if (badKey || key === at) return;
    change({
      ...draft,
      steps: steps.map((x) => ({
        ...x,
        key: x.key === at ? key : x.key,
        start: x.start.step === at ? { ...x.start, step: key } : x.start,
      })),
    });
    select({ part: "step", key });
  };
  return (
    <>
      <div className="row">
        <h2>{s.title}</h2>
        <span className="quiet small">{t("a step of the work plan")}</span>
        <span className="grow" />
        <Button
          size="small"
          danger
          onClick={() => {
            change({ ...draft, steps: steps.filter((x) => x.key !== at) });
            select({ part: "product" });
          }}
        >
          {t("Take away")}
        </Button>
      </div>
      <Findings findings={findings.filter((f) => f.part === "step" && f.key === at)} />
      <div className="pair">
        <Labelled id="step-title" wording={t("Title")}>
          <Input id="step-title" value={s.title} onChange={(e) => set({ title: e.target.value })} />
        </Labelled>
        <KeyField id="step-key" value={key} bad={badKey} set={setKey} done={rename} />
      </div>
      <Labelled
        id="instructions"
        wording={t("Instructions")}
        help={t("{{field}} shows the answer with that key.", { field: "{{key}}" })}
      >
        <Input.TextArea
          id="instructions"
          rows={2}
          value={s.instructions ?? ""}
          onChange={(e) => set({ instructions: e.target.value || undefined })}
        />
      </Labelled>
      <Labelled
        id="needs"
        wording={t("Answers it needs")}
        help={t("They are the columns of its worksheet; while a required one is missing, the work waits.")}
      >
        <Select
          id="needs"
          mode="multiple"
          className="full"
          value={s.needs ?? []}
          onChange={(needs) => set({ needs })}
          options={asked.map((q) => ({ value: q.key, label: q.wording }))}
        />
      </Labelled>
      <HowLong s={s} set={set} asked={asked} />
      <When s={s} set={set} others={steps.filter((x) => x.key !== at)} booked={draft.booking !== undefined} />
      <ConditionEditor
        title={t("Needed only when")}
        condition={s.when}
        questions={asked}
        change={(when) => set({ when })}
      />
    </>
  );
}

type PartProps = { s: Step; set: (part: Partial<Step>) => void };

// HowLong asks for the minutes: in any case, for each unit, for each of what an
// answer counts.
function HowLong({ s, set, asked }: PartProps & { asked: Question[] }) {
  const { t } = useTranslation();
  const table = useKinds();
  const countable = asked.filter((q) => table.kind(q.kind)?.counts);
  const of = asked.find((q) => q.key === s.minutes.of);
  const entries = (of?.settings?.questions as Question[] | undefined) ?? [];
  const text = of && table.kind(of.kind)?.counts === "character";
  return (
    <>
      <h3>{t("How long it takes")}</h3>
      <div className="pair three">
        <Labelled id="fixed" wording={t("Minutes in any case")}>
          <WholeBox
            id="fixed"
            value={s.minutes.fixed}
            onChange={(n) => set({ minutes: { ...s.minutes, fixed: n || undefined } })}
          />
        </Labelled>
        <Labelled id="unit" wording={t("and for each unit")}>
          <WholeBox
            id="unit"
            value={s.minutes.unit}
            onChange={(n) => set({ minutes: { ...s.minutes, unit: n || undefined } })}
          />
        </Labelled>
        <Labelled id="each" wording={text ? t("and for each letter of") : t("and for each of")}>
          <WholeBox
            id="each"
            value={s.minutes.each}
            onChange={(n) => set({ minutes: { ...s.minutes, each: n || undefined } })}
          />
          <Select
            aria-label={t("Counted answer")}
            className="full"
            allowClear
            value={s.minutes.of}
            onChange={(key?: string) => {
              const q = countable.find((x) => x.key === key);
              const per = q && table.kind(q.kind)?.counts;
              set({ minutes: { ...s.minutes, of: q?.key, per } });
            }}
            options={countable.map((q) => ({ value: q.key, label: q.wording }))}
          />
        </Labelled>
      </div>
      {entries.length > 0 && (s.minutes.each ?? 0) > 0 && (
        <ConditionEditor
          title={t("Only for entries")}
          always={t("every one")}
          condition={s.minutes.entries}
          questions={entries}
          facts={false}
          change={(next) => set({ minutes: { ...s.minutes, entries: next } })}
        />
      )}
    </>
  );
}

// When asks when the step can be begun and when it is due.
function When({ s, set, others, booked }: PartProps & { others: Step[]; booked: boolean }) {
  const { t } = useTranslation();
  return (
    <>
      <h3>{t("When")}</h3>
      <div className="pair">
        <Labelled id="start" wording={t("It can be begun")}>
          <Select
            id="start"
            value={s.start.on}
            onChange={(on) =>
              set({
                start: on === "step" ? { on, step: others[0]?.key ?? "" } : { on },
              })
            }
            options={[
              { value: "payment", label: t("once it is paid") },
              { value: "brief", label: t("once all is answered") },
              { value: "step", label: t("after another step") },
              { value: "booking", label: t("when the booked time begins"), disabled: !booked },
            ]}
          />
          {s.start.on === "step" && (
            <Select
              aria-label={t("After which step")}
              className="full"
              value={s.start.step}
              onChange={(step) => set({ start: { on: "step", step } })}
              options={others.map((x) => ({ value: x.key, label: x.title }))}
            />
          )}
        </Labelled>
        <Labelled id="due" wording={t("It is due within")}>
          <WholeBox
            id="due"
            value={s.due.count}
            onChange={(n) => set({ due: { ...s.due, count: n ?? 0 } })}
          />
          <Select
            aria-label={t("Counted in")}
            className="full"
            value={s.due.rule}
            onChange={(rule) => set({ due: { ...s.due, rule } })}
            options={[
              { value: "working_hours", label: t("working hours") },
              { value: "working_days", label: t("working days") },
              {
                value: "hours_before_booking",
                label: t("hours before the booking"),
                disabled: !booked,
              },
              { value: "days_before_booking", label: t("days before the booking"), disabled: !booked },
              { value: "hours_after_booking", label: t("hours after the booking"), disabled: !booked },
              { value: "days_after_booking", label: t("days after the booking"), disabled: !booked },
            ]}
          />
        </Labelled>
      </div>
    </>
  );
}
