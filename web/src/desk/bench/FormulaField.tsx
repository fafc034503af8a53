import { AutoComplete, Input } from "antd";
import { useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { DecimalBox } from "../../shared/questions/boxes";
import { RateTable } from "./RateTable";
import { useTrial } from "./trial";

type Props = {
  id: string;
  label: string;
  value: string;
  onChange: (formula: string) => void;
  // the amount where it has no result
  otherwise?: string;
  setOtherwise: (otherwise: string | undefined) => void;
  part: "charge" | "value";
  // its number from 1
  n: number;
  findings: Schemas["Finding"][];
};

const functions = [
  "min(",
  "max(",
  "round(",
  "ceil(",
  "floor(",
  "abs(",
  "share(",
  "rate(",
  "upto(",
  "count(",
  "sum(",
];

// What can have no result for some answers.
const open = /\/|\brate\s*\(|\bupto\s*\(/;

// FormulaField takes a formula: it completes the names that the formula can
// read, shows what it comes to for the answers being tried, and points at the
// place of a mistake.
export function FormulaField({
  id,
  label,
  value,
  onChange,
  otherwise,
  setOtherwise,
  part,
  n,
  findings,
}: Props) {
  const { t } = useTranslation();
  const trial = useTrial();
  const box = useRef<HTMLDivElement>(null);
  const [caret, setCaret] = useState(value.length);
  const word = /[a-z_][a-z0-9_]*$/.exec(value.slice(0, caret))?.[0] ?? "";
  const put = (name: string) => {
    const start = caret - word.length;
    const next = value.slice(0, start) + name + value.slice(caret);
    onChange(next);
    setCaret(start + name.length);
    requestAnimationFrame(() => {
      const area = box.current?.querySelector("textarea");
      area?.focus();
      area?.setSelectionRange(start + name.length, start + name.length);
    });
  };
  const options = [
    ...(trial?.names ?? []).map((x) => ({
      value: x.name,
      label: (
        <span className="row">
          <code className="grow">{x.name}</code>
          <span className="quiet small">{x.words}</span>
        </span>
      ),
    })),
    ...functions.map((f) => ({ value: f, label: <code>{f}…)</code> })),
  ].filter((o) => word !== "" && o.value.startsWith(word) && o.value !== word);
  const result = trial?.results?.find((r) => r.part === part && r.key === String(n));
  const mistake = findings.find((f) => f.part === part && f.key === String(n) && f.at !== undefined);
  return (
    <div className="formula" ref={box}>
      <AutoComplete
        className="formula-box"
        value={value}
        options={options}
        open={options.length > 0 ? undefined : false}
        onSelect={put}
        onSearch={() => undefined}
        defaultActiveFirstOption={false}
      >
        <Input.TextArea
          id={id}
          aria-label={label}
          aria-describedby={`${id}-result`}
          className="code"
          rows={1}
          spellCheck={false}
          onChange={(e) => {
            setCaret(e.target.selectionStart ?? e.target.value.length);
            onChange(e.target.value);
          }}
          onSelect={(e) => setCaret(e.currentTarget.selectionStart ?? value.length)}
        />
      </AutoComplete>
      <RateTable id={id} formula={value} change={onChange} />
      {(otherwise !== undefined || open.test(value)) && (
        <label className="row small" htmlFor={`${id}-otherwise`}>
          {t("without a result, it is")}
          <span className="charge-box">
            <DecimalBox
              id={`${id}-otherwise`}
              label={t("{{what}}, without a result", { what: label })}
              value={otherwise}
              onChange={setOtherwise}
            />
          </span>
        </label>
      )}
      <div id={`${id}-result`} className="small" aria-live="polite">
        {mistake?.at !== undefined ? (
          <pre
            className="formula-at"
            role="img"
            aria-label={t("The mistake is at character {{at}}", { at: mistake.at })}
          >
            {value.slice(Math.max(0, mistake.at - 21), mistake.at - 1)}
            <mark>{value.slice(mistake.at - 1, mistake.at) || " "}</mark>
            {value.slice(mistake.at, mistake.at + 20)}
          </pre>
        ) : result?.problem ? (
          <span className="formula-none">{result.problem}</span>
        ) : (
          result?.result && (
            <span className="quiet">
              {t("comes to {{result}} for the answers being tried", { result: result.result })}
            </span>
          )
        )}
      </div>
    </div>
  );
}
