import { Button, Input } from "antd";
import { useTranslation } from "react-i18next";
import { anInk, paints } from "../../palette";
import { ChoiceSetting, LineSetting, TickSetting } from "../settings";
import type { EditorProps } from "../types";
import type { Paint } from "./Field";

export function Editor(p: EditorProps) {
  const { t } = useTranslation();
  const palette = (p.settings.palette as Paint[] | undefined) ?? [];
  const set = (next: Paint[]) => p.onChange({ ...p.settings, palette: next.length > 0 ? next : undefined });
  return (
    <>
      <div className="question">
        <div className="question-wording">{t("Palette")}</div>
        {palette.map((c, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: while it is typed, a colour is known by its place
          <div key={i} className="choice-edit">
            <input
              type="color"
              aria-label={t("Colour of {{choice}}", { choice: c.name })}
              value={c.colour}
              onChange={(e) => set(palette.with(i, { ...c, colour: e.target.value }))}
            />
            <Input
              aria-label={t("Name of colour {{n}}", { n: i + 1 })}
              value={c.name}
              onChange={(e) => set(palette.with(i, { ...c, name: e.target.value }))}
            />
            <Button
              aria-label={t("Take {{what}} away", { what: c.name })}
              onClick={() => set(palette.toSpliced(i, 1))}
            >
              ×
            </Button>
          </div>
        ))}
        <Button
          onClick={() =>
            set([...palette, { name: t("Colour {{n}}", { n: palette.length + 1 }), colour: paints.lapis }])
          }
        >
          {t("Add a colour")}
        </Button>
      </div>
      <TickSetting {...p} name="free" wording={t("Any other colour can be picked too")} />
      <div className="pair">
        <LineSetting
          {...p}
          name="text"
          wording={t("Colour of the text on it")}
          help={t("Like {{example}}; empty takes black or white, whichever reads better.", {
            example: anInk,
          })}
        />
        <ChoiceSetting
          {...p}
          name="least_contrast"
          wording={t("Text has to stand out")}
          options={[
            { value: "", label: t("not checked") },
            { value: "3", label: t("3 : 1, large text") },
            { value: "4.5", label: t("4.5 : 1, text") },
            { value: "7", label: t("7 : 1, text for all") },
          ]}
        />
      </div>
    </>
  );
}
