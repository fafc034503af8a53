import { Button, Input } from "antd";
import { type PointerEvent, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Html } from "../../Html";
import type { FieldProps } from "../types";
import { Strokes } from "./Strokes";

type Signature = { strokes?: number[][]; name?: string; text: string };

// A signature is drawn with finger, pen or mouse, or typed as a name. What is
// signed stands above it.
export function Field({ id, q, value, onChange, asked, describedBy, invalid, disabled }: FieldProps) {
  const { t } = useTranslation();
  const given = (value ?? undefined) as Signature | undefined;
  const [how, setHow] = useState<"drawn" | "typed">(given?.name ? "typed" : "drawn");
  const text = String(q.settings.text ?? "");
  const strokes = given?.strokes ?? [];
  const drawing = useRef<number[] | undefined>(undefined);
  const [now, setNow] = useState<number[]>();
  const point = (e: PointerEvent<SVGSVGElement>): [number, number] => {
    const box = e.currentTarget.getBoundingClientRect();
    const at = (x: number) => Math.min(1000, Math.max(0, Math.round(x * 1000)));
    return [at((e.clientX - box.left) / box.width), at((e.clientY - box.top) / box.height)];
  };
  const begin = (e: PointerEvent<SVGSVGElement>) => {
    if (disabled) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    drawing.current = point(e);
    setNow(drawing.current);
  };
  const move = (e: PointerEvent<SVGSVGElement>) => {
    const stroke = drawing.current;
    if (!stroke || stroke.length > 1000) return;
    const [x, y] = point(e);
    if (Math.abs(x - (stroke.at(-2) ?? 0)) + Math.abs(y - (stroke.at(-1) ?? 0)) < 4) return;
    drawing.current = [...stroke, x, y];
    setNow(drawing.current);
  };
  const end = () => {
    const stroke = drawing.current;
    drawing.current = undefined;
    setNow(undefined);
    if (stroke && strokes.length < 200) onChange({ strokes: [...strokes, stroke], text });
  };
  return (
    <div className="signature-field">
      {asked?.text && (
        <div className="signed-text">
          <Html html={asked.text} />
        </div>
      )}
      <div className="choice-buttons">
        {(["drawn", "typed"] as const).map((way) => (
          <button
            key={way}
            type="button"
            className="choice-button small"
            aria-pressed={how === way}
            disabled={disabled}
            onClick={() => {
              setHow(way);
              onChange(null);
            }}
          >
            {way === "drawn" ? t("Sign by hand") : t("Type your name")}
          </button>
        ))}
      </div>
      {how === "drawn" ? (
        <>
          <Strokes
            strokes={now ? [...strokes, now] : strokes}
            label={t("Field to sign in; or type your name instead")}
            onPointerDown={begin}
            onPointerMove={move}
            onPointerUp={end}
            onPointerCancel={end}
          />
          {strokes.length > 0 && (
            <Button size="small" disabled={disabled} onClick={() => onChange(null)}>
              {t("Sign again")}
            </Button>
          )}
        </>
      ) : (
        <Input
          id={id}
          className="signed-name"
          value={given?.name ?? ""}
          disabled={disabled}
          autoComplete="name"
          status={invalid ? "error" : undefined}
          aria-labelledby={`${id}-label`}
          aria-describedby={describedBy}
          onChange={(e) => onChange(e.target.value === "" ? null : { name: e.target.value, text })}
        />
      )}
    </div>
  );
}
