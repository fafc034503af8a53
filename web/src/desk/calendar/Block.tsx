import { Popover } from "antd";
import { useState } from "react";
import { Card } from "./Card";
import { type Shift, useShift } from "./shift";
import type { Booking } from "./times";

type Props = {
  b: Booking;
  // pixels of a day, of a minute and of a row
  sizes: { day: number; minute?: number; row?: number };
  style: React.CSSProperties;
  // what stands on it
  children: React.ReactNode;
  moved: (s: Shift) => void;
  move: () => void;
  className?: string;
};

// Block is a booking on the calendar that can be opened, moved and lengthened.
export function Block({ b, sizes, style, children, moved, move, className }: Props) {
  const [open, setOpen] = useState(false);
  const { shift, handlers } = useShift({
    ...sizes,
    grows: b.stay ? "days" : "minutes",
    done: (s) => {
      setOpen(false);
      moved(s);
    },
  });
  const along = b.stay || !sizes.minute;
  const grown = along ? { width: shift.longer * sizes.day } : { height: shift.longer * (sizes.minute ?? 0) };
  const x = shift.days * sizes.day;
  const y = shift.minutes * (sizes.minute ?? 0) + shift.rows * (sizes.row ?? 0);
  const drawn = {
    ...style,
    transform: x || y ? `translate(${x}px, ${y}px)` : undefined,
    ...(grown.width ? { width: `calc(${style.width} + ${grown.width}px)` } : {}),
    ...(grown.height ? { height: `calc(${style.height}px + ${grown.height}px)` } : {}),
    zIndex: x || y || shift.longer ? 5 : undefined,
  };
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      content={
        <Card
          b={b}
          move={() => {
            setOpen(false);
            move();
          }}
        />
      }
    >
      <button
        type="button"
        className={`calendar-block${b.no_show ? " no-show" : ""}${className ? ` ${className}` : ""}`}
        style={drawn}
        title={`${b.customer}: ${b.product}`}
        aria-keyshortcuts="Alt+ArrowLeft Alt+ArrowRight Alt+ArrowUp Alt+ArrowDown Alt+Shift+ArrowRight"
        {...handlers}
      >
        {children}
        <span className={along ? "calendar-grow along" : "calendar-grow"} data-grow="" aria-hidden="true" />
      </button>
    </Popover>
  );
}
