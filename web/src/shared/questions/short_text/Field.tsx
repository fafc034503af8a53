import { Input } from "antd";
import { useTranslation } from "react-i18next";
import type { FieldProps } from "../types";

// graphemes counts characters as people do (UAX #29), so that what is left to
// type is what the server will allow.
const segments = new Intl.Segmenter(undefined, { granularity: "grapheme" });
const graphemes = (s: string) => [...segments.segment(s)].length;

export function TextField(props: FieldProps & { lines: boolean; longest: number }) {
  const { id, q, value, onChange, describedBy, invalid, disabled, lines, longest } = props;
  const { t } = useTranslation();
  const text = typeof value === "string" ? value : "";
  const most = (q.settings.most as number | undefined) ?? longest;
  const count = graphemes(text);
  const common = {
    id,
    value: text,
    disabled,
    status: invalid ? ("error" as const) : undefined,
    "aria-describedby": describedBy,
    "aria-invalid": invalid || undefined,
    "aria-required": q.required || undefined,
  };
  const change = (next: string) => {
    // Typing stops at the limit; a longer paste is cut there.
    const kept =
      graphemes(next) <= most
        ? next
        : [...segments.segment(next)]
            .slice(0, most)
            .map((s) => s.segment)
            .join("");
    onChange(kept === "" ? null : kept);
  };
  return (
    <>
      {lines ? (
        <Input.TextArea {...common} rows={3} onChange={(e) => change(e.target.value)} />
      ) : (
        <Input {...common} onChange={(e) => change(e.target.value)} />
      )}
      {count > 0 && (count > most * 0.6 || most <= 60) && (
        <div className="small quiet num">{t("{{count}} of {{most}}", { count, most })}</div>
      )}
    </>
  );
}

export function Field(props: FieldProps) {
  return <TextField {...props} lines={false} longest={500} />;
}
