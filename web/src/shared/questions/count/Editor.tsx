import { useTranslation } from "react-i18next";
import { LineSetting, WholeSetting } from "../settings";
import type { EditorProps } from "../types";

export function Editor(p: EditorProps) {
  const { t } = useTranslation();
  return (
    <div className="pair">
      <WholeSetting {...p} name="least" wording={t("Least")} />
      <WholeSetting {...p} name="most" wording={t("Most")} />
      <LineSetting {...p} name="unit" wording={t("Unit")} />
    </div>
  );
}
