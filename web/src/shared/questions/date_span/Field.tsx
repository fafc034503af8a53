import { useTranslation } from "react-i18next";
import type { FieldProps } from "../types";

type Span = { from?: string; to?: string };

export function Field({ id, value, onChange, asked, describedBy, invalid, disabled }: FieldProps) {
  const { t } = useTranslation();
  const span = (value ?? {}) as Span;
  const set = (part: Span) => {
    const next = { from: span.from ?? "", to: span.to ?? "", ...part };
    onChange(next.from === "" && next.to === "" ? null : next);
  };
  const box = (end: "from" | "to", wording: string) => (
    <label className="span-end">
      <span className="small quiet">{wording}</span>
      <input
        id={`${id}-${end}`}
        type="date"
        className="plain-field"
        value={span[end] ?? ""}
        disabled={disabled}
        aria-describedby={describedBy}
        aria-invalid={invalid || undefined}
        onChange={(e) => set({ [end]: e.target.value })}
      />
    </label>
  );
  return (
    <fieldset id={id} className="bare span-field" aria-labelledby={`${id}-label`}>
      {box("from", t("from"))}
      {box("to", t("to"))}
      {asked?.answered && !invalid && <div className="small quiet num">{asked.words}</div>}
    </fieldset>
  );
}
