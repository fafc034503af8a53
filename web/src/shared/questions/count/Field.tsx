import { Counter } from "../Counter";
import type { FieldProps } from "../types";

export function Field({ id, q, value, onChange, describedBy, invalid, disabled }: FieldProps) {
  const set = q.settings as { least?: number; most?: number; unit?: string };
  return (
    <Counter
      id={id}
      value={typeof value === "number" ? value : undefined}
      least={set.least ?? 0}
      most={set.most ?? 999}
      unit={set.unit}
      describedBy={describedBy}
      invalid={invalid}
      disabled={disabled}
      labelledBy={`${id}-label`}
      onChange={(n) => onChange(n === undefined || (n === 0 && !q.required) ? null : n)}
    />
  );
}
