import { Input } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../Labelled";
import { DecimalBox } from "../boxes";
import type { EditorProps } from "../types";

export function Editor({ settings, onChange }: EditorProps) {
  const { t } = useTranslation();
  const box = (name: string, wording: string) => (
    <Labelled id={`set-${name}`} wording={wording}>
      <DecimalBox
        id={`set-${name}`}
        value={settings[name] as string | undefined}
        onChange={(v) => onChange({ ...settings, [name]: v })}
      />
    </Labelled>
  );
  return (
    <div className="pair">
      {box("least", t("Least"))}
      {box("most", t("Most"))}
      {box("step", t("In steps of"))}
      <Labelled id="set-unit" wording={t("Unit")}>
        <Input
          id="set-unit"
          value={(settings.unit as string | undefined) ?? ""}
          onChange={(e) => onChange({ ...settings, unit: e.target.value || undefined })}
        />
      </Labelled>
    </div>
  );
}
