import { Button, Checkbox, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { digits as digitsOf } from "../../shared/currency";
import { Labelled } from "../../shared/Labelled";
import { kinds } from "../../shared/questions/editors";
import { shown } from "../../shared/questions/fields";
import type { Choice } from "../../shared/questions/one_choice/Choices";
import { Charges } from "./Charges";
import { type Draft, detachSheet, type Moment, moments, type Question, shiftLinked } from "./draft";
import { Findings } from "./Findings";
import { SheetFigures } from "./SheetFigures";
import { useTrial } from "./trial";

type Props = {
  draft: Draft;
  change: (draft: Draft) => void;
  q: Question;
  linked: Question[];
  sheet?: Schemas["SheetRow"];
  findings: Schemas["Finding"][];
};

// LinkedEditor changes what a product has differently from a question that a
// sheet brings in, without detaching it.
export function LinkedEditor({ draft, change, q, linked, sheet, findings }: Props) {
  const { t } = useTranslation();
  const shift = draft.sheets?.find((u) => u.sheet === q.sheet)?.changes?.find((c) => c.key === q.key);
  const set = (part: Partial<Schemas["SheetShift"]>) => change(shiftLinked(draft, q, part));
  const choices = (q.settings?.choices as Choice[] | undefined) ?? [];
  const digits = digitsOf(draft.currency);
  const trial = useTrial();
  const figures = trial?.figures?.filter((f) => f.sheet === q.sheet) ?? [];
  const names: Record<string, string> = {
    choosing: t("while choosing"),
    paying: t("at checkout"),
    briefing: t("after paying"),
    desk: t("only at the desk"),
  };
  return (
    <>
      <div className="row">
        <h2>{q.wording || t("Note")}</h2>
        <span className="quiet small">{t(kinds[q.kind]?.name ?? q.kind)}</span>
      </div>
      <div className="notice row">
        <span className="grow">
          {t("This question comes from a sheet and follows its changes:")}{" "}
          <Link to={`/sheets/${q.sheet}`}>{sheet?.name ?? t("sheet")}</Link>
        </span>
        <Button
          size="small"
          disabled={linked.some((x) => x.sheet === q.sheet && x.currency)}
          onClick={() =>
            change(
              detachSheet(draft, q.sheet ?? 0, linked, {
                charges: trial?.linked_charges ?? [],
                values: trial?.linked_values ?? [],
                steps: trial?.linked_steps ?? [],
              }),
            )
          }
        >
          {t("Detach the sheet here")}
        </Button>
      </div>
      <Findings findings={findings.filter((f) => f.part === "question" && f.key === q.key)} />
      <p className="small quiet">
        {t("What is set here holds for this product alone; empty follows the sheet.")}
      </p>
      {q.kind !== "note" && (
        <Labelled id="shift-wording" wording={t("What people read here")}>
          <Input
            id="shift-wording"
            value={shift?.wording ?? ""}
            placeholder={q.wording}
            onChange={(e) => set({ wording: e.target.value || undefined })}
          />
        </Labelled>
      )}
      <div className="pair">
        <Labelled id="shift-moment" wording={t("Asked")}>
          <Select
            id="shift-moment"
            value={(shift?.moment ?? "") as "" | Moment}
            onChange={(m: "" | Moment) => set({ moment: m || undefined })}
            options={[
              { value: "", label: t("as in the sheet") },
              ...moments.map((value) => ({ value, label: names[value] })),
            ]}
          />
        </Labelled>
        {!shown.has(q.kind) && (
          <Labelled id="shift-required" wording={t("Must be answered")}>
            <Select
              id="shift-required"
              value={shift?.required === undefined ? "" : String(shift.required)}
              onChange={(v) => set({ required: v === "" ? undefined : v === "true" })}
              options={[
                { value: "", label: t("as in the sheet") },
                { value: "true", label: t("yes") },
                { value: "false", label: t("no") },
              ]}
            />
          </Labelled>
        )}
      </div>
      {choices.length > 0 && (
        <Labelled id="shift-choices" wording={t("Choices offered here (all, where none is named)")}>
          <Select
            id="shift-choices"
            mode="tags"
            value={shift?.choices ?? []}
            onChange={(v: string[]) => set({ choices: v.length > 0 ? v : undefined })}
            options={choices.map((c) => ({ value: c.code, label: c.label }))}
          />
        </Labelled>
      )}
      <div className="row question">
        <Checkbox checked={shift?.off ?? false} onChange={(e) => set({ off: e.target.checked || undefined })}>
          {t("switched off")}
        </Checkbox>
      </div>
      <SheetFigures
        title={t("What the sheet charges for it")}
        figures={figures.filter((f) => f.question === q.key)}
        draft={draft}
        change={change}
      />
      <SheetFigures
        title={t("Work that the sheet brings")}
        figures={figures.filter((f) => f.question === undefined)}
        draft={draft}
        change={change}
      />
      {!shown.has(q.kind) && (q.moment === "choosing" || q.moment === "paying") && (
        <Charges draft={draft} change={change} q={q} linked={linked} digits={digits} findings={findings} />
      )}
    </>
  );
}
