import { Button, Input, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../../shared/api/client";
import { Labelled } from "../../../shared/Labelled";
import { ConditionEditor } from "../../../shared/questions/ConditionEditor";
import { shown } from "../../../shared/questions/fields";
import { useKinds } from "../../../shared/questions/kinds";
import type { Draft, Selected, Step } from "../draft";
import { Findings } from "../Findings";
import { KeyField } from "../KeyField";
import { Beside } from "./Beside";
import { ForEach } from "./ForEach";
import { HowLong } from "./HowLong";
import { Shown } from "./Shown";
import { When } from "./When";
import { Whom } from "./Whom";

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
        help={
          s.for
            ? t("{{field}} shows the answer with that key, {{part}} what it is for.", {
                field: "{{key}}",
                part: "{{part}}",
              })
            : t("{{field}} shows the answer with that key.", { field: "{{key}}" })
        }
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
      <ForEach s={s} set={set} asked={asked} />
      <HowLong s={s} set={set} asked={asked} values={draft.values ?? []} />
      <When
        s={s}
        set={set}
        asked={asked}
        others={steps.filter((x) => x.key !== at)}
        booked={draft.booking !== undefined}
      />
      <Whom s={s} set={set} booked={draft.booking !== undefined} />
      <ConditionEditor
        title={t("Needed only when")}
        condition={s.when}
        questions={asked}
        change={(when) => set({ when })}
      />
      <Shown s={s} set={set} currency={draft.currency} />
      <Beside s={s} set={set} />
    </>
  );
}
