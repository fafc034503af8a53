import { Input, Popover } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../shared/Labelled";

const usual = "{{order}}-{{name}}";
const fields = ["order", "customer", "question", "part", "name", "number"];

// AnswerFiles saves the answers of a worksheet as files for the work: its texts as one,
// its pictures named by a pattern.
export function AnswerFiles({ at }: { at: string }) {
  const { t } = useTranslation();
  const [pattern, setPattern] = useState(usual);
  const unknown = [...pattern.matchAll(/\{\{\s*(\w*)\s*\}\}/g)].some((m) => !fields.includes(m[1] ?? ""));
  return (
    <Popover
      trigger="click"
      content={
        <div className="stack answer-files">
          <Labelled
            id="answer-pattern"
            wording={t("How the files are named")}
            help={t("With these fields: {{fields}}.", { fields: fields.map((f) => `{{${f}}}`).join(" ") })}
            fault={unknown ? t("There is no such field.") : undefined}
          >
            <Input id="answer-pattern" value={pattern} onChange={(e) => setPattern(e.target.value)} />
          </Labelled>
          <a href={`${at}?pattern=${encodeURIComponent(pattern)}`} download>
            {t("Save as a zip file")}
          </a>
        </div>
      }
    >
      <button type="button" className="linkish">
        {t("Answers as files")}
      </button>
    </Popover>
  );
}
