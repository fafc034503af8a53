import { Checkbox, Select } from "antd";
import { useTranslation } from "react-i18next";
import { weekdays } from "../../format";
import { Labelled } from "../../Labelled";
import { useToday } from "../../today";
import { WholeBox } from "../boxes";
import type { EditorProps } from "../types";

type Bound = { day?: string; from_today?: number; answer?: string; days?: number };

export function Editor(p: EditorProps) {
  const { t } = useTranslation();
  return (
    <>
      <div className="pair">
        <BoundSetting {...p} name="earliest" wording={t("Earliest")} />
        <BoundSetting {...p} name="latest" wording={t("Latest")} />
      </div>
      <WeekdaySetting {...p} />
    </>
  );
}

function BoundSetting(p: EditorProps & { name: "earliest" | "latest"; wording: string }) {
  const { t } = useTranslation();
  const today = useToday();
  const { settings, onChange, name, wording, questions = [], at } = p;
  const dates = questions.filter((q) => (q.kind === "date" || q.kind === "date_span") && q.key !== at);
  const b = settings[name] as Bound | undefined;
  const kind =
    b === undefined ? "none" : b.day !== undefined ? "day" : b.answer !== undefined ? "answer" : "from_today";
  const set = (next: Bound | undefined) => onChange({ ...settings, [name]: next });
  const start: Record<string, Bound | undefined> = {
    none: undefined,
    day: { day: today },
    from_today: { from_today: 0 },
    answer: { answer: dates[0]?.key, days: 0 },
  };
  return (
    <Labelled id={`set-${name}`} wording={wording}>
      <Select
        id={`set-${name}`}
        value={kind}
        onChange={(k) => set(start[k])}
        options={[
          { value: "none", label: t("any day") },
          { value: "day", label: t("a fixed day") },
          { value: "from_today", label: t("so many days from today") },
          ...(dates.length > 0 ? [{ value: "answer", label: t("so many days from another answer") }] : []),
        ]}
      />
      {kind === "day" && (
        <input
          type="date"
          className="plain-field"
          aria-label={wording}
          value={b?.day ?? ""}
          onChange={(e) => e.target.value && set({ day: e.target.value })}
        />
      )}
      {kind === "from_today" && (
        <WholeBox
          id={`set-${name}-days`}
          label={wording}
          suffix={t("days from today")}
          value={b?.from_today}
          onChange={(n) => set({ from_today: n ?? 0 })}
        />
      )}
      {kind === "answer" && (
        <div className="stack">
          <Select
            aria-label={t("Which answer")}
            value={b?.answer}
            onChange={(answer) => set({ ...b, answer })}
            options={dates.map((q) => ({ value: q.key, label: q.wording }))}
          />
          <WholeBox
            id={`set-${name}-days`}
            label={wording}
            suffix={t("days after it")}
            value={b?.days ?? 0}
            onChange={(n) => set({ ...b, days: n || undefined })}
          />
        </div>
      )}
    </Labelled>
  );
}

// WeekdaySetting chooses the days of the week that are taken; all, where none
// is ticked.
function WeekdaySetting({ settings, onChange }: EditorProps) {
  const { t, i18n } = useTranslation();
  const on = (settings.weekdays as number[] | undefined) ?? [];
  return (
    <fieldset className="bare question">
      <legend className="question-wording">{t("Days of the week (all, where none is ticked)")}</legend>
      <div className="row">
        {weekdays(i18n.language).map(({ value: d, label }) => (
          <Checkbox
            key={d}
            checked={on.includes(d)}
            onChange={(e) => {
              const next = e.target.checked ? [...on, d].toSorted() : on.filter((x) => x !== d);
              onChange({ ...settings, weekdays: next.length > 0 ? next : undefined });
            }}
          >
            {label}
          </Checkbox>
        ))}
      </div>
    </fieldset>
  );
}
