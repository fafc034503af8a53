import { Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../api/client";
import { Labelled } from "../../Labelled";
import { PicturePicker } from "../../PicturePicker";
import { Sortable, SortableRow } from "../../Sortable";
import { MoneyBox } from "../boxes";
import { ConditionEditor } from "../ConditionEditor";
import { TickSetting } from "../settings";
import type { EditorProps } from "../types";
import type { Choice } from "./Choices";

// code makes a choice's code from its label.
export const code = (label: string) =>
  label
    .normalize("NFD")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "_")
    .replace(/^_+|_+$/g, "")
    .slice(0, 40);

export function Editor(p: EditorProps) {
  const { settings, onChange } = p;
  const { t } = useTranslation();
  const choices = (settings.choices as Choice[] | undefined) ?? [];
  const drawn = (settings.drawn as string | undefined) || "list";
  const [open, setOpen] = useState<number>();
  const set = (next: Choice[]) => onChange({ ...settings, choices: next });
  const change = (i: number, part: Partial<Choice>) =>
    set(choices.map((c, n) => (n === i ? { ...c, ...part } : c)));
  const move = (from: number, to: number) => {
    const moved = choices[from];
    if (!moved) return;
    set(choices.toSpliced(from, 1).toSpliced(to, 0, moved));
    setOpen(undefined);
  };
  const free = () => {
    let n = choices.length + 1;
    while (choices.some((c) => c.code === `choice_${n}`)) n++;
    return n;
  };
  const pictures = drawn === "cards" || settings.main === true || choices.some((c) => c.picture);
  return (
    <>
      <Labelled id="set-drawn" wording={t("Drawn as")}>
        <Select
          id="set-drawn"
          value={drawn}
          onChange={(v) => onChange({ ...settings, drawn: v })}
          options={[
            { value: "list", label: t("a list") },
            { value: "buttons", label: t("buttons") },
            { value: "cards", label: t("picture cards") },
            { value: "swatches", label: t("colour swatches") },
          ]}
        />
      </Labelled>
      <div className="question">
        <div className="question-wording">{t("Choices")}</div>
        <Sortable
          ids={choices.map((_, i) => String(i))}
          move={move}
          name={(id) => choices[Number(id)]?.label ?? ""}
        >
          {choices.map((c, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: while it is typed, a choice is known by its place
            <SortableRow key={i} id={String(i)} name={c.label}>
              <div className="choice-edit">
                {drawn === "swatches" && (
                  <input
                    type="color"
                    aria-label={t("Colour of {{choice}}", { choice: c.label })}
                    value={c.colour ?? "#888888"}
                    onChange={(e) => change(i, { colour: e.target.value })}
                  />
                )}
                {pictures && (
                  <PicturePicker
                    label={c.label}
                    value={c.picture}
                    onChange={(picture) => change(i, { picture })}
                  />
                )}
                <Input
                  aria-label={t("Label of choice {{n}}", { n: i + 1 })}
                  value={c.label}
                  onChange={(e) => change(i, { label: e.target.value })}
                />
                <Input
                  aria-label={t("Code of choice {{n}}", { n: i + 1 })}
                  className="code"
                  value={c.code}
                  onChange={(e) => change(i, { code: e.target.value })}
                />
                <Button
                  aria-label={t("More of {{what}}", { what: c.label })}
                  aria-expanded={open === i}
                  onClick={() => setOpen(open === i ? undefined : i)}
                >
                  …
                </Button>
                <Button
                  aria-label={t("Take {{what}} away", { what: c.label })}
                  onClick={() => set(choices.toSpliced(i, 1))}
                >
                  ×
                </Button>
              </div>
              {open === i && (
                <More
                  {...p}
                  choice={c}
                  change={(part) => change(i, part)}
                  preselect={(on) =>
                    set(
                      choices.map((x, n) => ({
                        ...x,
                        preselected:
                          n === i ? on || undefined : p.single !== false ? undefined : x.preselected,
                      })),
                    )
                  }
                />
              )}
            </SortableRow>
          ))}
        </Sortable>
        <Button
          onClick={() => {
            const n = free();
            set([...choices, { code: `choice_${n}`, label: t("Choice {{n}}", { n }) }]);
          }}
        >
          {t("Add a choice")}
        </Button>
      </div>
      <TickSetting {...p} name="main" wording={t("The chosen picture becomes the product's main picture")} />
    </>
  );
}

type MoreProps = EditorProps & {
  choice: Choice;
  change: (part: Partial<Choice>) => void;
  preselect: (on: boolean) => void;
};

// More holds what most choices do not need.
function More({ choice, change, preselect, questions = [], at, digits }: MoreProps) {
  const { t } = useTranslation();
  return (
    <div className="choice-more">
      <Input
        aria-label={t("Help beside {{what}}", { what: choice.label })}
        placeholder={t("Help beside it")}
        value={choice.help ?? ""}
        onChange={(e) => change({ help: e.target.value || undefined })}
      />
      <Checkbox checked={choice.preselected ?? false} onChange={(e) => preselect(e.target.checked)}>
        {t("chosen at first (only what costs nothing)")}
      </Checkbox>
      <div className="row">
        <Input
          className="code choice-article"
          aria-label={t("Article code of {{what}}", { what: choice.label })}
          placeholder={t("Article code")}
          value={choice.article ?? ""}
          maxLength={40}
          onChange={(e) => change({ article: e.target.value || undefined })}
        />
        <label className="row small" htmlFor={`cost-${choice.code}`}>
          {t("costs you")}
          <span className="charge-box">
            <MoneyBox
              id={`cost-${choice.code}`}
              label={t("Cost of {{what}}", { what: choice.label })}
              digits={digits}
              value={choice.cost}
              onChange={(cost) => change({ cost: cost || undefined })}
            />
          </span>
        </label>
      </div>
      {questions.length > 0 && (
        <ConditionEditor
          title={t("Offered only when")}
          condition={choice.when as Schemas["Condition"] | undefined}
          questions={questions.filter((q) => q.key !== at)}
          change={(when) => change({ when })}
        />
      )}
    </div>
  );
}
