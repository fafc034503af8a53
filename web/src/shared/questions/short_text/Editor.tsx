import { useTranslation } from "react-i18next";
import { ChoiceSetting, LineSetting, WholeSetting } from "../settings";
import type { EditorProps } from "../types";

export function Editor(p: EditorProps) {
  const { t } = useTranslation();
  return (
    <>
      <div className="pair">
        <WholeSetting {...p} name="least" wording={t("Shortest")} suffix={t("characters")} />
        <WholeSetting {...p} name="most" wording={t("Longest")} suffix={t("characters")} />
        <WholeSetting {...p} name="most_words" wording={t("Most words")} suffix={t("words")} />
        <ChoiceSetting
          {...p}
          name="allowed"
          wording={t("Characters")}
          options={[
            { value: "", label: t("any") },
            { value: "letters", label: t("letters") },
            { value: "letters_digits", label: t("letters and digits") },
            { value: "capitals_digits", label: t("capitals and digits") },
          ]}
        />
      </div>
      <div className="pair">
        <LineSetting
          {...p}
          name="pattern"
          wording={t("Pattern")}
          help={t("A regular expression that all of it has to match; mostly empty.")}
        />
        <LineSetting {...p} name="says" wording={t("What people read when it does not match")} />
      </div>
    </>
  );
}
