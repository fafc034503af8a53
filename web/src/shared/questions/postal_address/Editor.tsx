import { Select } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../Labelled";
import { countries } from "../settings";
import type { EditorProps } from "../types";

export function Editor({ settings, onChange }: EditorProps) {
  const { t, i18n } = useTranslation();
  return (
    <Labelled
      id="set-countries"
      wording={t("Countries (all, where none is named)")}
      help={t("The first one is offered first. Each is asked only for what its addresses have.")}
    >
      <Select
        id="set-countries"
        mode="multiple"
        optionFilterProp="label"
        value={(settings.countries as string[] | undefined) ?? []}
        onChange={(v: string[]) => onChange({ ...settings, countries: v.length > 0 ? v : undefined })}
        options={countries(i18n.language)}
      />
    </Labelled>
  );
}
