import { useTranslation } from "react-i18next";
import { Editor as DateEditor } from "../date/Editor";
import { WholeSetting } from "../settings";
import type { EditorProps } from "../types";

export function Editor(p: EditorProps) {
  const { t } = useTranslation();
  return (
    <>
      <DateEditor {...p} />
      <div className="pair">
        <WholeSetting {...p} name="least" wording={t("Shortest")} suffix={t("days")} />
        <WholeSetting {...p} name="most" wording={t("Longest")} suffix={t("days")} />
      </div>
    </>
  );
}
