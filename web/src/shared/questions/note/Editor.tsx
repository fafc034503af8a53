import { Input } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../Labelled";
import type { EditorProps } from "../types";

export function Editor({ settings, onChange }: EditorProps) {
  const { t } = useTranslation();
  return (
    <Labelled
      id="set-text"
      wording={t("Text")}
      help={t("Markdown; {{field}} shows the answer with that key.", { field: "{{key}}" })}
    >
      <Input.TextArea
        id="set-text"
        rows={3}
        value={(settings.text as string | undefined) ?? ""}
        onChange={(e) => onChange({ ...settings, text: e.target.value })}
      />
    </Labelled>
  );
}
