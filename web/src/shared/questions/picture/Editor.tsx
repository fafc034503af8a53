import { useTranslation } from "react-i18next";
import { Labelled } from "../../Labelled";
import { PicturePicker } from "../../PicturePicker";
import { LineSetting } from "../settings";
import type { EditorProps } from "../types";

export function Editor(p: EditorProps) {
  const { t } = useTranslation();
  return (
    <>
      <Labelled id="set-picture" wording={t("Picture")}>
        <PicturePicker
          id="set-picture"
          label={t("Picture")}
          value={p.settings.picture as string | undefined}
          onChange={(picture) => p.onChange({ ...p.settings, picture })}
        />
      </Labelled>
      <LineSetting
        {...p}
        name="alt"
        wording={t("What is on it")}
        help={t("For people who do not see the picture.")}
      />
    </>
  );
}
