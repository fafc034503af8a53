import { Select } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../../shared/Labelled";
import { ConditionEditor } from "../../../shared/questions/ConditionEditor";
import type { Step } from "../draft";
import { choicesOf, entryQuestions, type WithQuestions } from "./parts";

type For = NonNullable<Step["for"]>;

// ForEach asks what of an order line the step exists once for each of.
export function ForEach({ s, set, asked }: WithQuestions) {
  const { t } = useTranslation();
  const of: Record<string, typeof asked> = {
    entry: asked.filter((q) => q.kind === "repeat"),
    choice: asked.filter((q) => choicesOf(q).length > 0),
    file: asked.filter((q) => q.kind === "files"),
  };
  const each = s.for?.each;
  const choose = (next: For["each"] | "line") =>
    set({ for: next === "line" ? undefined : { each: next, of: of[next]?.[0]?.key } });
  const list = each && of[each];
  const within = each === "entry" ? entryQuestions(asked.find((q) => q.key === s.for?.of)) : asked;
  return (
    <>
      <h3>{t("How often")}</h3>
      <div className="pair">
        <Labelled id="each-part" wording={t("It is done")}>
          <Select
            id="each-part"
            value={each ?? "line"}
            onChange={choose}
            options={[
              { value: "line", label: t("once for what was ordered") },
              { value: "unit", label: t("for each unit") },
              { value: "entry", label: t("for each entry of a list"), disabled: !of.entry?.length },
              { value: "person", label: t("for each person") },
              { value: "choice", label: t("for each chosen value"), disabled: !of.choice?.length },
              { value: "file", label: t("for each file"), disabled: !of.file?.length },
            ]}
          />
        </Labelled>
        {list && (
          <Labelled id="part-of" wording={t("of")}>
            <Select
              id="part-of"
              value={s.for?.of}
              onChange={(key) => set({ for: { each: s.for?.each ?? "entry", of: key } })}
              options={list.map((q) => ({ value: q.key, label: q.wording }))}
            />
          </Labelled>
        )}
      </div>
      {s.for && (each === "entry" || each === "unit") && (
        <ConditionEditor
          title={each === "entry" ? t("Only for entries") : t("Only for units")}
          always={t("every one")}
          condition={s.for.when}
          questions={within}
          facts={false}
          change={(when) => s.for && set({ for: { ...s.for, when } })}
        />
      )}
    </>
  );
}
