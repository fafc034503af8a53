import { useTranslation } from "react-i18next";
import { TextSetting } from "../settings";
import type { EditorProps } from "../types";

export function Editor(p: EditorProps) {
  const { t } = useTranslation();
  return <TextSetting {...p} name="text" wording={t("The text that is signed")} help={t("Markdown.")} />;
}
