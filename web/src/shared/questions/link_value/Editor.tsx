import { useTranslation } from "react-i18next";
import { ListSetting, TickSetting, WholeSetting } from "../settings";
import type { EditorProps } from "../types";

export function Editor(p: EditorProps) {
  const { t } = useTranslation();
  return (
    <>
      <p className="small quiet">
        {t("Read from links to the product's page that end in {{example}}.", {
          example: `?q.${p.at ?? "key"}=…`,
        })}
      </p>
      <TickSetting {...p} name="hidden" wording={t("Customers do not see it")} />
      <ListSetting
        {...p}
        name="values"
        wording={t("Only these values (any, where none is named)")}
        help={t("Press Enter after each.")}
      />
      <WholeSetting {...p} name="most" wording={t("Longest")} suffix={t("characters")} />
    </>
  );
}
