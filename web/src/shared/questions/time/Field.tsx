import type { FieldProps } from "../types";

export function Field({ id, q, value, onChange, describedBy, invalid, disabled }: FieldProps) {
  const step = q.settings.step as number | undefined;
  return (
    <input
      id={id}
      type="time"
      className="plain-field narrow"
      value={typeof value === "string" ? value : ""}
      step={step ? step * 60 : undefined}
      disabled={disabled}
      aria-describedby={describedBy}
      aria-invalid={invalid || undefined}
      required={q.required}
      onChange={(e) => onChange(e.target.value || null)}
    />
  );
}
