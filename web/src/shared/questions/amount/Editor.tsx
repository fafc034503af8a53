import { Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { minor, typed } from "../../format";
import { Labelled } from "../../Labelled";
import { MoneyBox } from "../boxes";
import type { EditorProps } from "../types";

export function Editor({ settings, onChange, digits }: EditorProps) {
  const { t } = useTranslation();
  const suggestions = (settings.suggestions as number[] | undefined) ?? [];
  const [text, setText] = useState(suggestions.map((s) => typed(s, digits)).join("; "));
  return (
    <>
      <div className="pair">
        <Labelled id="set-least" wording={t("Least")}>
          <MoneyBox
            id="set-least"
            digits={digits}
            value={settings.least as number | undefined}
            onChange={(least) => onChange({ ...settings, least })}
          />
        </Labelled>
        <Labelled id="set-most" wording={t("Most")}>
          <MoneyBox
            id="set-most"
            digits={digits}
            value={settings.most as number | undefined}
            onChange={(most) => onChange({ ...settings, most })}
          />
        </Labelled>
      </div>
      <Labelled
        id="set-suggestions"
        wording={t("Suggestions")}
        help={t("Amounts with a semicolon between them.")}
      >
        <Input
          id="set-suggestions"
          value={text}
          onChange={(e) => {
            setText(e.target.value);
            const amounts = e.target.value.split(";").map((s) => minor(s.trim(), digits));
            onChange({ ...settings, suggestions: amounts.filter((a) => a !== undefined) });
          }}
        />
      </Labelled>
    </>
  );
}
