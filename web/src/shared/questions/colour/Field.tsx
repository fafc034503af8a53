import { Input } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { anInk } from "../../palette";
import type { FieldProps } from "../types";

export type Paint = { name: string; colour: string };

// A colour is taken from the palette, or picked and typed where any will do.
// Its name and how well text on it reads come from the server.
export function Field({ id, q, value, onChange, asked, describedBy, invalid, disabled }: FieldProps) {
  const { t } = useTranslation();
  const palette = (q.settings.palette as Paint[] | undefined) ?? [];
  const free = q.settings.free === true;
  const hex = typeof value === "string" ? value : "";
  const [typed, setTyped] = useState(hex);
  useEffect(() => setTyped(hex), [hex]);
  const choose = (next: string) => onChange(next === hex && !q.required ? null : next);
  return (
    <div className="colour-field">
      {palette.length > 0 && (
        <fieldset id={id} className="choices choices-swatches" aria-labelledby={`${id}-label`}>
          {palette.map((p) => (
            <label key={p.colour} className={hex === p.colour ? "choice on" : "choice"}>
              <input
                type="radio"
                name={id}
                checked={hex === p.colour}
                disabled={disabled}
                onChange={() => choose(p.colour)}
                onClick={() => {
                  if (hex === p.colour) choose(p.colour);
                }}
              />
              <svg className="swatch" viewBox="0 0 32 32" aria-hidden="true">
                <rect x="1" y="1" width="30" height="30" rx="8" fill={p.colour} />
              </svg>
              <span className="choice-label">{p.name}</span>
            </label>
          ))}
        </fieldset>
      )}
      {free && (
        <div className="row">
          <input
            type="color"
            aria-label={t("Pick any colour")}
            value={/^#[0-9a-f]{6}$/.test(hex) ? hex : anInk}
            disabled={disabled}
            onChange={(e) => onChange(e.target.value)}
          />
          <Input
            id={palette.length > 0 ? `${id}-hex` : id}
            className="code colour-hex"
            value={typed}
            placeholder={anInk}
            disabled={disabled}
            status={invalid ? "error" : undefined}
            aria-label={t("Colour, written like {{example}}", { example: anInk })}
            aria-describedby={describedBy}
            onChange={(e) => {
              setTyped(e.target.value);
              const clean = e.target.value.trim().toLowerCase();
              if (clean === "") onChange(null);
              else if (/^#[0-9a-f]{6}$/.test(clean)) onChange(clean);
            }}
          />
        </div>
      )}
      {asked?.answered && <div className="small quiet num question-read">{asked.words}</div>}
    </div>
  );
}
