import { Input } from "antd";
import type { FieldProps } from "./types";

type Props = FieldProps & {
  type?: "text" | "email" | "tel" | "url" | "time";
  complete?: string;
  placeholder?: string;
};

// Line is a field of one line for kinds whose answers the server reads. Under
// it stands how the server reads what was typed, where that differs.
export function Line(props: Props) {
  const { id, q, value, onChange, asked, describedBy, invalid, disabled, type = "text" } = props;
  const text = typeof value === "string" ? value : "";
  const read = asked?.answered && !invalid && asked.words !== text ? asked.words : undefined;
  return (
    <>
      <Input
        id={id}
        type={type === "url" ? "text" : type}
        inputMode={type === "email" || type === "tel" || type === "url" ? type : undefined}
        autoComplete={props.complete}
        placeholder={props.placeholder}
        value={text}
        disabled={disabled}
        status={invalid ? "error" : undefined}
        aria-describedby={describedBy}
        aria-invalid={invalid || undefined}
        aria-required={q.required || undefined}
        onChange={(e) => onChange(e.target.value === "" ? null : e.target.value)}
      />
      {read && <div className="small quiet num question-read">{read}</div>}
    </>
  );
}
