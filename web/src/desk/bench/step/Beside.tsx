import { Button, Input } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../../shared/Labelled";
import { BesideFiles } from "../../work/BesideFiles";
import type { PartProps } from "./parts";

// Beside is what lies beside the work: a checklist, and papers that are made from
// the answers.
export function Beside({ s, set }: PartProps) {
  const { t } = useTranslation();
  const papers = s.papers ?? [];
  const change = (i: number, part: Partial<(typeof papers)[number]>) =>
    set({ papers: papers.map((p, k) => (k === i ? { ...p, ...part } : p)) });
  return (
    <>
      <h3>{t("Beside the work")}</h3>
      <Labelled id="checklist" wording={t("Checklist")} help={t("A line for each thing to tick.")}>
        <Input.TextArea
          id="checklist"
          rows={4}
          value={(s.checklist ?? []).join("\n")}
          onChange={(e) => set({ checklist: e.target.value ? e.target.value.split("\n") : undefined })}
          onBlur={() => {
            const lines = (s.checklist ?? []).map((l) => l.trim()).filter(Boolean);
            set({ checklist: lines.length > 0 ? lines : undefined });
          }}
        />
      </Labelled>
      <div className="stack">
        <span>{t("Files beside the work")}</span>
        <BesideFiles
          own={s.files ?? []}
          step={[]}
          adding
          set={(files) => set({ files: files.length > 0 ? files : undefined })}
        />
      </div>
      {papers.map((p, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a paper is known by its place
        <div className="stack" key={i}>
          <div className="row">
            <Input
              aria-label={t("Title of the paper")}
              className="grow"
              value={p.title}
              onChange={(e) => change(i, { title: e.target.value })}
            />
            <Button
              aria-label={t("Take away {{what}}", { what: p.title })}
              onClick={() =>
                set({ papers: papers.length > 1 ? papers.filter((_, k) => k !== i) : undefined })
              }
            >
              ×
            </Button>
          </div>
          <Input.TextArea
            aria-label={t("Text of {{what}}", { what: p.title })}
            rows={6}
            value={p.text}
            onChange={(e) => change(i, { text: e.target.value })}
          />
        </div>
      ))}
      <div>
        <Button
          size="small"
          onClick={() => set({ papers: [...papers, { title: t("New paper"), text: "# {{customer}}\n\n" }] })}
        >
          {t("Add a paper made from the answers")}
        </Button>
      </div>
    </>
  );
}
