import { useTranslation } from "react-i18next";
import { Labelled } from "../../Labelled";
import { WholeBox } from "../boxes";
import type { EditorProps } from "../types";

export function Editor({ settings, onChange }: EditorProps) {
  const { t } = useTranslation();
  return (
    <div className="pair">
      <Labelled id="set-least" wording={t("Shortest")}>
        <WholeBox
          id="set-least"
          suffix={t("characters")}
          value={settings.least as number | undefined}
          onChange={(least) => onChange({ ...settings, least })}
        />
      </Labelled>
      <Labelled id="set-most" wording={t("Longest")}>
        <WholeBox
          id="set-most"
          suffix={t("characters")}
          value={settings.most as number | undefined}
          onChange={(most) => onChange({ ...settings, most })}
        />
      </Labelled>
    </div>
  );
}
