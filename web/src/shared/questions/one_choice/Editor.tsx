import { Button, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../Labelled";
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

export function Editor({ settings, onChange }: EditorProps) {
  const { t } = useTranslation();
  const choices = (settings.choices as Choice[] | undefined) ?? [];
  const drawn = (settings.drawn as string | undefined) || "list";
  const set = (next: Choice[]) => onChange({ ...settings, choices: next });
  const change = (i: number, part: Partial<Choice>) =>
    set(choices.map((c, n) => (n === i ? { ...c, ...part } : c)));
  const move = (i: number, by: number) => {
    const moved = choices[i];
    if (moved) set(choices.toSpliced(i, 1).toSpliced(i + by, 0, moved));
  };
  const free = () => {
    let n = choices.length + 1;
    while (choices.some((c) => c.code === `choice_${n}`)) n++;
    return n;
  };
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
            { value: "swatches", label: t("colour swatches") },
          ]}
        />
      </Labelled>
      <div className="question">
        <div className="question-wording">{t("Choices")}</div>
        {choices.map((c, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: while it is typed, a choice is known by its place
          <div key={i} className="choice-edit">
            {drawn === "swatches" && (
              <input
                type="color"
                aria-label={t("Colour of {{choice}}", { choice: c.label })}
                value={c.colour ?? "#888888"}
                onChange={(e) => change(i, { colour: e.target.value })}
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
              aria-label={t("Move {{what}} up", { what: c.label })}
              disabled={i === 0}
              onClick={() => move(i, -1)}
            >
              ↑
            </Button>
            <Button
              aria-label={t("Take {{what}} away", { what: c.label })}
              onClick={() => set(choices.toSpliced(i, 1))}
            >
              ×
            </Button>
          </div>
        ))}
        <Button
          onClick={() => {
            const n = free();
            set([...choices, { code: `choice_${n}`, label: t("Choice {{n}}", { n }) }]);
          }}
        >
          {t("Add a choice")}
        </Button>
      </div>
    </>
  );
}
