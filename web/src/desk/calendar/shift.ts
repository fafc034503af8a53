import { useRef, useState } from "react";

// How far something is moved: in days, minutes and rows; and how much longer it
// gets, in the unit of its length.
export type Shift = { days: number; minutes: number; rows: number; longer: number };

type Options = {
  // pixels of a day, of a minute and of a row; without one it cannot be moved so
  day: number;
  minute?: number;
  row?: number;
  // it grows by days, or by minutes
  grows: "days" | "minutes";
  done: (shift: Shift) => void;
};

export const step = 15; // minutes
const none: Shift = { days: 0, minutes: 0, rows: 0, longer: 0 };
const is = (s: Shift) => s.days !== 0 || s.minutes !== 0 || s.rows !== 0 || s.longer !== 0;

// useShift moves and lengthens something by drag, or by Alt with the arrow keys (with
// Shift it gets longer); Enter makes it so, Escape leaves it.
export function useShift(o: Options) {
  const [shift, show] = useState<Shift>(none);
  // The last move counts when it is let go, also where it was not drawn yet.
  const latest = useRef(none);
  const setShift = (next: Shift) => {
    latest.current = next;
    show(next);
  };
  const from = useRef<{ x: number; y: number; grow: boolean; moved: boolean }>(undefined);
  const swallow = useRef(false);
  const steps = (px: number, size?: number) => (size ? Math.round(px / size) : 0);
  const end = () => {
    if (is(latest.current)) o.done(latest.current);
    setShift(none);
  };
  return {
    shift,
    handlers: {
      onPointerDown: (e: React.PointerEvent<HTMLElement>) => {
        if (e.button !== 0) return;
        const grow = (e.target as HTMLElement).dataset.grow !== undefined;
        from.current = { x: e.clientX, y: e.clientY, grow, moved: false };
        swallow.current = false;
        e.currentTarget.setPointerCapture(e.pointerId);
      },
      onPointerMove: (e: React.PointerEvent<HTMLElement>) => {
        const f = from.current;
        if (!f) return;
        const dx = e.clientX - f.x;
        const dy = e.clientY - f.y;
        if (!f.moved && Math.hypot(dx, dy) < 5) return;
        f.moved = true;
        const days = steps(dx, o.day);
        const minutes = steps(dy, o.minute && o.minute * step) * step;
        if (f.grow) setShift({ ...none, longer: o.grows === "days" ? days : minutes });
        else setShift({ days, minutes, rows: steps(dy, o.row), longer: 0 });
      },
      onPointerUp: () => {
        swallow.current = from.current?.moved ?? false;
        from.current = undefined;
        end();
      },
      onPointerCancel: () => {
        from.current = undefined;
        setShift(none);
      },
      // A drag is no press.
      onClickCapture: (e: React.MouseEvent) => {
        if (!swallow.current) return;
        swallow.current = false;
        e.stopPropagation();
        e.preventDefault();
      },
      // Once the key is let go, so that what opens does not get it.
      onKeyUp: (e: React.KeyboardEvent) => {
        if (e.key === "Enter" && is(shift)) end();
      },
      onKeyDown: (e: React.KeyboardEvent) => {
        if (is(shift) && (e.key === "Enter" || e.key === "Escape")) {
          e.preventDefault();
          e.stopPropagation();
          if (e.key === "Escape") setShift(none);
          return;
        }
        if (!e.altKey) return;
        const by: Record<string, [number, number]> = {
          ArrowLeft: [-1, 0],
          ArrowRight: [1, 0],
          ArrowUp: [0, -1],
          ArrowDown: [0, 1],
        };
        const at = by[e.key];
        if (!at) return;
        e.preventDefault();
        const [x, y] = at;
        const s = latest.current;
        if (e.shiftKey) setShift({ ...none, longer: s.longer + (o.grows === "days" ? x : y * step) });
        else
          setShift({
            days: s.days + x,
            minutes: s.minutes + (o.minute ? y * step : 0),
            rows: s.rows + (o.row ? y : 0),
            longer: 0,
          });
      },
    },
  };
}
