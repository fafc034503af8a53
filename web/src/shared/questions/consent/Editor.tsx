import { useTranslation } from "react-i18next";
import { LineSetting, TextSetting } from "../settings";
import type { EditorProps } from "../types";

export function Editor(p: EditorProps) {
  const { t } = useTranslation();
  return (
    <>
      <TextSetting {...p} name="text" wording={t("The text that people agree to")} help={t("Markdown.")} />
      <div className="pair">
        <LineSetting
          {...p}
          name="version"
          wording={t("Version")}
          help={t("Change it with the text; each order keeps the one that was agreed to.")}
        />
        <LineSetting
          {...p}
          name="link"
          wording={t("Where it stands too")}
          help={t("A web address, if any.")}
        />
      </div>
    </>
  );
}
