import { useTranslation } from "react-i18next";
import { Editor as ChoicesEditor } from "../one_choice/Editor";
import { TickSetting, WholeSetting } from "../settings";
import type { EditorProps } from "../types";

export function Editor(p: EditorProps) {
  const { t } = useTranslation();
  return (
    <>
      <ChoicesEditor {...p} single={false} />
      <TickSetting {...p} name="counted" wording={t("Customers say how many of each")} />
      <div className="pair">
        <WholeSetting {...p} name="least" wording={t("Fewest")} />
        <WholeSetting {...p} name="most" wording={t("Most")} />
        {p.settings.counted === true && <WholeSetting {...p} name="most_each" wording={t("Most of each")} />}
      </div>
    </>
  );
}
