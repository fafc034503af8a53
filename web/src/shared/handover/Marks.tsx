import { type PointerEvent, type ReactNode, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Mark } from "./types";

type Place = Pick<Mark, "x" | "y" | "w" | "h">;
export type Numbered = { n: number; mark: Mark };

// smallest is from which share of a side a mark is an area, and not a point.
const smallest = 0.012;

type Props = {
  marks: Numbered[];
  // adds a mark where somebody pressed, or drew a frame; without it they are only shown
  add?: (place: Place) => void;
  children: ReactNode;
};

// Marks shows marks on a picture or a page, and lets them be set: a press is a point, a
// drag a frame.
export function Marks({ marks, add, children }: Props) {
  const { t } = useTranslation();
  const box = useRef<HTMLDivElement>(null);
  const [from, setFrom] = useState<{ x: number; y: number }>();
  const [frame, setFrame] = useState<Place>();
  const at = (e: PointerEvent) => {
    const r = box.current?.getBoundingClientRect();
    const share = (v: number, of: number) => Math.min(Math.max(of > 0 ? v / of : 0, 0), 1);
    return r
      ? { x: share(e.clientX - r.left, r.width), y: share(e.clientY - r.top, r.height) }
      : { x: 0, y: 0 };
  };
  const drawn = (e: PointerEvent): Place => {
    const to = at(e);
    const start = from ?? to;
    return {
      x: Math.min(start.x, to.x),
      y: Math.min(start.y, to.y),
      w: Math.abs(to.x - start.x),
      h: Math.abs(to.y - start.y),
    };
  };
  return (
    <div
      ref={box}
      className={add ? "marked-picture adding" : "marked-picture"}
      title={add && t("Press where something should be different, or draw a frame around it.")}
      onPointerDown={(e) => {
        if (!add || e.button !== 0) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        setFrom(at(e));
      }}
      onPointerMove={(e) => from && setFrame(drawn(e))}
      onPointerCancel={() => {
        setFrom(undefined);
        setFrame(undefined);
      }}
      onPointerUp={(e) => {
        if (!from || !add) return;
        const place = drawn(e);
        setFrom(undefined);
        setFrame(undefined);
        const area = (place.w ?? 0) > smallest && (place.h ?? 0) > smallest;
        add(area ? place : { x: from.x, y: from.y, w: 0, h: 0 });
      }}
    >
      {children}
      {marks.map(({ n, mark }) => (
        <span
          key={n}
          className={mark.w || mark.h ? "spot area" : "spot"}
          style={placed(mark)}
          title={mark.words}
          data-mark={n}
        >
          <span className="spot-number num">{n}</span>
        </span>
      ))}
      {frame && <span className="spot area drawing" style={placed(frame)} />}
    </div>
  );
}

const placed = (p: Place) => ({
  left: `${p.x * 100}%`,
  top: `${p.y * 100}%`,
  width: p.w ? `${p.w * 100}%` : undefined,
  height: p.h ? `${p.h * 100}%` : undefined,
});
