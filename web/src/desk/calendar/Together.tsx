import { Popover } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Card } from "./Card";
import type { Booking } from "./times";

type Props = {
  list: Booking[];
  style: React.CSSProperties;
  move: (b: Booking) => void;
  // there is room for how many they are
  narrow?: boolean;
};

// Together is an opening or a meeting that several bookings share, where there is no
// room to show each: how many they are, and on press who.
export function Together({ list, style, move, narrow }: Props) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  const first = list[0];
  if (!first) return null;
  const people = list.reduce((n, b) => n + b.people, 0);
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      content={
        <div className="calendar-together">
          {list.map((b) => (
            <Card
              key={b.line}
              b={b}
              move={() => {
                setOpen(false);
                move(b);
              }}
            />
          ))}
        </div>
      }
    >
      <button
        type="button"
        className={narrow ? "calendar-block bar" : "calendar-block"}
        style={style}
        title={list.map((b) => b.customer).join(", ")}
      >
        {narrow ? (
          <>
            <span className="num" aria-hidden="true">
              {list.length}
            </span>
            <span className="sr">{t("{{count}} bookings", { count: list.length })}</span>
          </>
        ) : (
          <>
            <span className="num small">
              {first.time}–{first.ends}
            </span>
            <span>
              {t("{{count}} bookings", { count: list.length })},{" "}
              <span className="num">{t("{{count}} people", { count: people })}</span>
            </span>
            <span className="small calendar-what">
              {first.product}
              {first.meeting !== undefined && ` ${first.meeting}/${first.meetings}`}
            </span>
          </>
        )}
      </button>
    </Popover>
  );
}

// shared puts bookings together that share an opening of a product.
export function shared(list: Booking[]): Booking[][] {
  const groups = new Map<string, Booking[]>();
  for (const b of list) {
    const key = `${b.product_id} ${b.start} ${b.minutes}`;
    groups.set(key, [...(groups.get(key) ?? []), b]);
  }
  return [...groups.values()];
}
