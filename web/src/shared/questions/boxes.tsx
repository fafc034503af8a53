import { Input } from "antd";
import { useEffect, useState } from "react";
import { fine, minor, typed, typedFine } from "../format";

type Box<T> = {
  id: string;
  value: T | undefined;
  onChange: (value: T | undefined) => void;
  suffix?: string;
  prefix?: string;
  // where no visible label names the box
  label?: string;
  // what holds while it is empty
  placeholder?: string;
};

type Reading<T> = { read: (text: string) => T | undefined; write: (value: T) => string; decimals: boolean };

// TypedBox keeps what is typed while it is no whole value yet, and shows that
// it is none.
function TypedBox<T>({
  id,
  value,
  onChange,
  suffix,
  prefix,
  label,
  placeholder,
  read,
  write,
  decimals,
}: Box<T> & Reading<T>) {
  const given = value === undefined ? "" : write(value);
  const [text, setText] = useState(given);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a value from outside replaces the text
  useEffect(() => setText((old) => (read(old) === value ? old : given)), [given]);
  return (
    <Input
      id={id}
      aria-label={label}
      placeholder={placeholder}
      value={text}
      inputMode={decimals ? "decimal" : "numeric"}
      prefix={prefix}
      suffix={suffix}
      status={text !== "" && read(text) === undefined ? "error" : undefined}
      onChange={(e) => {
        setText(e.target.value);
        const next = read(e.target.value);
        if (next !== undefined || e.target.value.trim() === "") onChange(next);
      }}
    />
  );
}

// WholeBox takes a whole number, or nothing.
export function WholeBox(props: Box<number>) {
  const read = (text: string) => (/^\s*-?\d{1,9}\s*$/.test(text) ? Number(text) : undefined);
  return <TypedBox {...props} read={read} write={String} decimals={false} />;
}

// DecimalBox takes a decimal number and keeps its digits, as text.
export function DecimalBox(props: Box<string>) {
  const read = (text: string) => {
    const clean = text.trim().replace(",", ".");
    return /^-?\d{1,9}(\.\d{1,6})?$/.test(clean) ? clean : undefined;
  };
  return <TypedBox {...props} read={read} write={String} decimals />;
}

// FineBox takes an amount for one of what is counted, which can lie below the
// smallest coin.
export function FineBox({ digits, ...props }: Box<number> & { digits: number }) {
  return (
    <TypedBox
      key={digits}
      {...props}
      read={(text) => fine(text, digits)}
      write={(n) => typedFine(n, digits)}
      decimals
    />
  );
}

// MoneyBox takes an amount and gives minor units. With other digits it is
// another box: what was typed meant something else.
export function MoneyBox({ digits, ...props }: Box<number> & { digits: number }) {
  return (
    <TypedBox
      key={digits}
      {...props}
      read={(text) => minor(text, digits)}
      write={(n) => typed(n, digits)}
      decimals
    />
  );
}
