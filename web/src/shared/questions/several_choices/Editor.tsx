import { useTranslation } from "react-i18next";
import { Labelled } from "../../Labelled";
import { WholeBox } from "../boxes";
import { Editor as ChoicesEditor } from "../one_choice/Editor";
import type { EditorProps } from "../types";

export function Editor(props: EditorProps) {
  const { t } = useTranslation();
  const { settings, onChange } = props;
  return (
    <>
      <ChoicesEditor {...props} />
      <div className="pair">
        <Labelled id="set-least" wording={t("Fewest")}>
          <WholeBox
            id="set-least"
            value={settings.least as number | undefined}
            onChange={(least) => onChange({ ...settings, least })}
          />
        </Labelled>
        <Labelled id="set-most" wording={t("Most")}>
          <WholeBox
            id="set-most"
            value={settings.most as number | undefined}
            onChange={(most) => onChange({ ...settings, most })}
          />
        </Labelled>
      </div>
    </>
  );
}
