import { Input } from "antd";
import { useEffect, useState } from "react";
import { minor, typed } from "../format";

type Box<T> = {
  id: string;
  value: T | undefined;
  onChange: (value: T | undefined) => void;
  suffix?: string;
  prefix?: string;
  // where no visible label names the box
  label?: string;
};

// WholeBox takes a whole number, or nothing.
export function WholeBox({ id, value, onChange, label, suffix }: Box<number>) {
  const [text, setText] = useState(value === undefined ? "" : String(value));
  useEffect(
    () => setText((old) => (whole(old) === value ? old : value === undefined ? "" : String(value))),
    [value],
  );
  const wrong = text !== "" && whole(text) === undefined;
  return (
    <Input
      id={id}
      aria-label={label}
      value={text}
      inputMode="numeric"
      suffix={suffix}
      status={wrong ? "error" : undefined}
      onChange={(e) => {
        setText(e.target.value);
        const n = whole(e.target.value);
        if (n !== undefined || e.target.value.trim() === "") onChange(n);
      }}
    />
  );
}

function whole(text: string): number | undefined {
  return /^\s*-?\d{1,9}\s*$/.test(text) ? Number(text) : undefined;
}

// DecimalBox takes a decimal number and keeps its digits, as text.
export function DecimalBox({ id, value, onChange, label, suffix }: Box<string>) {
  const [text, setText] = useState(value ?? "");
  useEffect(() => setText((old) => (decimal(old) === value ? old : (value ?? ""))), [value]);
  const wrong = text !== "" && decimal(text) === undefined;
  return (
    <Input
      id={id}
      aria-label={label}
      value={text}
      inputMode="decimal"
      suffix={suffix}
      status={wrong ? "error" : undefined}
      onChange={(e) => {
        setText(e.target.value);
        const n = decimal(e.target.value);
        if (n !== undefined || e.target.value.trim() === "") onChange(n);
      }}
    />
  );
}

function decimal(text: string): string | undefined {
  const clean = text.trim().replace(",", ".");
  return /^-?\d{1,9}(\.\d{1,6})?$/.test(clean) ? clean : undefined;
}

// MoneyBox takes an amount and gives minor units.
export function MoneyBox({ id, value, onChange, label, prefix, digits }: Box<number> & { digits: number }) {
  const [text, setText] = useState(value === undefined ? "" : typed(value, digits));
  useEffect(
    () =>
      setText((old) =>
        minor(old, digits) === value ? old : value === undefined ? "" : typed(value, digits),
      ),
    [value, digits],
  );
  const wrong = text !== "" && minor(text, digits) === undefined;
  return (
    <Input
      id={id}
      aria-label={label}
      value={text}
      inputMode="decimal"
      prefix={prefix}
      status={wrong ? "error" : undefined}
      onChange={(e) => {
        setText(e.target.value);
        const n = minor(e.target.value, digits);
        if (n !== undefined || e.target.value.trim() === "") onChange(n);
      }}
    />
  );
}
