import { Checkbox } from "antd";
import { useTranslation } from "react-i18next";
import { Html } from "../../Html";
import type { FieldProps } from "../types";

// The text is read here or at its link; agreeing names its version.
export function Field({ id, q, value, onChange, asked, describedBy, disabled }: FieldProps) {
  const { t } = useTranslation();
  const set = q.settings as { version?: string; link?: string };
  const agreed = (value as { agreed?: boolean } | null)?.agreed === true;
  return (
    <div className="consent-field">
      {asked?.text && (
        <details className="signed-text">
          <summary>{t("Read the text, version {{version}}", { version: set.version })}</summary>
          <Html html={asked.text} />
        </details>
      )}
      {set.link && (
        <a href={set.link} target="_blank" rel="noreferrer" className="small">
          {t("It stands here too")}
        </a>
      )}
      <div>
        <Checkbox
          id={id}
          checked={agreed}
          disabled={disabled}
          aria-describedby={describedBy}
          onChange={(e) => onChange(e.target.checked ? { agreed: true, version: set.version ?? "" } : null)}
        >
          {t("I agree")}
        </Checkbox>
      </div>
    </div>
  );
}
