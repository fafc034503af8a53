import { Select } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../Labelled";
import { countries } from "../settings";
import type { EditorProps } from "../types";

export function Editor({ settings, onChange }: EditorProps) {
  const { t, i18n } = useTranslation();
  return (
    <Labelled
      id="set-country"
      wording={t("Country")}
      help={t("Numbers of this country need no prefix; all others are written with + and theirs.")}
    >
      <Select
        id="set-country"
        showSearch={{ optionFilterProp: "label" }}
        value={(settings.country as string | undefined) ?? ""}
        onChange={(v) => onChange({ ...settings, country: v || undefined })}
        options={[{ value: "", label: t("any, always with a prefix") }, ...countries(i18n.language)]}
      />
    </Labelled>
  );
}
