import type { FieldProps } from "../types";

// The browser's own date field: a calendar on phones, typing on desks.
export function Field({ id, q, value, onChange, describedBy, invalid, disabled }: FieldProps) {
  return (
    <input
      id={id}
      type="date"
      className="plain-field"
      value={typeof value === "string" ? value : ""}
      disabled={disabled}
      aria-describedby={describedBy}
      aria-invalid={invalid || undefined}
      required={q.required}
      onChange={(e) => onChange(e.target.value || null)}
    />
  );
}
