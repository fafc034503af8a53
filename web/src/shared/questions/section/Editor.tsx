import { useTranslation } from "react-i18next";
import { TickSetting } from "../settings";
import type { EditorProps } from "../types";

export function Editor(p: EditorProps) {
  const { t } = useTranslation();
  return <TickSetting {...p} name="step" wording={t("The shop shows it as a step of its own")} />;
}
