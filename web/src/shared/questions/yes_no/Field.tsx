import { useTranslation } from "react-i18next";
import type { FieldProps } from "../types";

// Two buttons; pressing the chosen one again takes the answer back, unless it
// has to be given.
export function Field({ id, q, value, onChange, describedBy, disabled }: FieldProps) {
  const { t } = useTranslation();
  return (
    <fieldset
      id={id}
      className="choice-buttons"
      aria-describedby={describedBy}
      aria-labelledby={`${id}-label`}
    >
      {[true, false].map((answer) => (
        <button
          type="button"
          key={String(answer)}
          disabled={disabled}
          aria-pressed={value === answer}
          className="choice-button"
          onClick={() => onChange(value === answer && !q.required ? null : answer)}
        >
          {answer ? t("Yes") : t("No")}
        </button>
      ))}
    </fieldset>
  );
}
