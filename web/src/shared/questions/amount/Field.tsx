import { Input } from "antd";
import { useEffect, useState } from "react";
import { minor, money, typed } from "../../format";
import type { FieldProps } from "../types";

// A customer-set amount: suggestions to press, or any amount typed.
export function Field({ id, q, value, onChange, page, describedBy, invalid, disabled }: FieldProps) {
  const given = typeof value === "number" ? value : null;
  const [text, setText] = useState(given === null ? "" : typed(given, page.digits));
  useEffect(() => {
    setText((old) =>
      (minor(old, page.digits) ?? null) === given ? old : given === null ? "" : typed(given, page.digits),
    );
  }, [given, page.digits]);
  const suggestions = (q.settings.suggestions as number[] | undefined) ?? [];
  const type = (next: string) => {
    setText(next);
    onChange(next.trim() === "" ? null : (minor(next, page.digits) ?? next));
  };
  return (
    <div className="row amount-field">
      {suggestions.map((s) => (
        <button
          type="button"
          key={s}
          disabled={disabled}
          className="choice-button num"
          aria-pressed={given === s}
          onClick={() => onChange(given === s && !q.required ? null : s)}
        >
          {money(s, page.currency)}
        </button>
      ))}
      <Input
        id={id}
        value={text}
        inputMode="decimal"
        disabled={disabled}
        prefix={page.currency}
        status={invalid ? "error" : undefined}
        aria-describedby={describedBy}
        aria-invalid={invalid || undefined}
        onChange={(e) => type(e.target.value)}
      />
    </div>
  );
}
