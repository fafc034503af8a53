import { Input } from "antd";
import { useEffect, useState } from "react";
import { Stepper } from "../../Stepper";
import type { FieldProps } from "../types";

// A number is typed, or stepped when it has small whole steps.
export function Field({ id, q, value, onChange, describedBy, invalid, disabled }: FieldProps) {
  const given = typeof value === "number" ? String(value) : "";
  const [text, setText] = useState(given);
  useEffect(() => {
    setText((old) => (read(old) === (given === "" ? null : Number(given)) ? old : given));
  }, [given]);
  const set = q.settings as { least?: string; most?: string; step?: string; unit?: string };
  const step = Number(set.step ?? 0);
  const least = set.least === undefined ? -Infinity : Number(set.least);
  const most = set.most === undefined ? Infinity : Number(set.most);
  const stepped = step >= 1 && most - least <= 200;
  const type = (next: string) => {
    setText(next);
    const n = read(next);
    // What is no number is sent as it is typed, so that the server says so.
    onChange(n === undefined ? next : n);
  };
  const box = (
    <Input
      id={id}
      value={text}
      inputMode={step >= 1 ? "numeric" : "decimal"}
      disabled={disabled}
      suffix={set.unit}
      status={invalid ? "error" : undefined}
      aria-describedby={describedBy}
      aria-invalid={invalid || undefined}
      onChange={(e) => type(e.target.value)}
    />
  );
  return (
    <div className="row number-field">
      {stepped ? (
        <Stepper
          value={typeof value === "number" ? value : undefined}
          least={least}
          most={most}
          step={step}
          disabled={disabled}
          onChange={onChange}
        >
          {box}
        </Stepper>
      ) : (
        box
      )}
    </div>
  );
}

function read(text: string): number | null | undefined {
  const clean = text.trim().replace(",", ".");
  if (clean === "") return null;
  return /^-?\d{1,12}(\.\d+)?$/.test(clean) ? Number(clean) : undefined;
}
