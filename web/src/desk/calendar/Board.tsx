import { useTranslation } from "react-i18next";
import { day as dayName } from "../../shared/format";
import { Block } from "./Block";
import { KeptBlock } from "./KeptBlock";
import { lanes } from "./lanes";
import { shared, Together } from "./Together";
import { type Booking, minuteOf, type Spot, type Target, targetOf, type View } from "./times";

type Props = {
  view: View;
  days: string[];
  bookings: Booking[];
  propose: (b: Booking, to: Target) => void;
  press: (spot: Spot) => void;
  go: (day: string) => void;
};

const wide = 44; // pixels of a day
const high = 30; // pixels of a row

type Row = {
  key: string;
  name: string;
  resource?: number;
  lanes: number;
  away: { from: string; to: string; reason?: string }[];
};

// Board shows a row for each person, room and thing across the days, and one for each
// product that takes none: who has it when, and when it is away.
export function Board({ view, days, bookings, propose, press, go }: Props) {
  const { t } = useTranslation();
  const index = new Map(days.map((d, i) => [d, i]));
  const first = days[0] ?? "";
  const last = days.at(-1) ?? "";
  // Where a booking begins and ends, in days from the first one.
  const place = (b: { day: string; time: string; last: string; ends: string }) => {
    const at = (day: string, minutes: number) =>
      day < first ? 0 : day > last ? days.length : (index.get(day) ?? 0) + minutes / 1440;
    return {
      from: at(b.day, minuteOf(b.time)),
      to: at(b.last, minuteOf(b.ends === "00:00" ? "24:00" : b.ends)),
    };
  };
  const none = bookings.filter((b) => b.with.length === 0);
  const rows: Row[] = [
    ...view.resources.map((r) => ({
      key: `r${r.id}`,
      name: r.name,
      resource: r.id,
      lanes: r.number,
      away: r.away,
    })),
    ...[...new Set(none.map((b) => b.product))].map((p) => ({ key: p, name: p, lanes: 1, away: [] })),
  ];
  const of = (row: Row) =>
    row.resource === undefined
      ? none.filter((b) => b.product === row.key)
      : bookings.filter((b) => b.with.some((r) => r.id === row.resource));
  if (rows.length === 0)
    return <div className="empty">{t("Nothing is booked, and no person, room or thing is known.")}</div>;
  return (
    <section className="calendar-board" aria-label={t("Board")}>
      <div className="board-inner" style={{ width: 170 + days.length * wide }}>
        <div className="board-row board-head">
          <span className="board-name" />
          {days.map((d) => (
            <button
              key={d}
              type="button"
              className={`board-day${d === view.today ? " is-today" : ""}${view.days.find((x) => x.day === d)?.closed ? " closed" : ""}`}
              style={{ width: wide }}
              onClick={() => go(d)}
            >
              <span className="small">{dayName(d, view.today).slice(0, 2)}</span>
              <span className="num">{Number(d.slice(8))}</span>
              <span className="sr">, {dayName(d, view.today)}</span>
            </button>
          ))}
        </div>
        {rows.map((row, n) => {
          // Who shares an opening has it together: it takes the row once.
          const placed = lanes(
            shared(of(row)).flatMap((list) => (list[0] ? [{ b: list[0], list, ...place(list[0]) }] : [])),
          );
          const needs = Math.max(row.lanes, ...placed.map((x) => x.lane + 1), 1);
          return (
            <div key={row.key} className="board-row" style={{ height: needs * high + 4 }}>
              <span className="board-name">{row.name}</span>
              {/* biome-ignore lint/a11y/noStaticElementInteractions: a shortcut of "Keep a time" for who points */}
              {/* biome-ignore lint/a11y/useKeyWithClickEvents: the keyboard has that button */}
              <div
                className="board-lane"
                onClick={(e) => {
                  if (e.target !== e.currentTarget || row.resource === undefined) return;
                  const x = e.clientX - e.currentTarget.getBoundingClientRect().left;
                  const on = days[Math.min(Math.floor(x / wide), days.length - 1)];
                  if (on) press({ day: on, time: "00:00", ends: "00:00", resource: row.resource });
                }}
                style={{ width: days.length * wide, backgroundSize: `${wide}px 100%` }}
              >
                {row.away.map((c) => {
                  const from = Math.max(index.get(c.from) ?? 0, 0);
                  const to = c.to > last ? days.length : (index.get(c.to) ?? 0) + 1;
                  return (
                    <span
                      key={c.from}
                      className="board-away"
                      title={c.reason}
                      style={{ left: from * wide, width: (to - from) * wide }}
                    >
                      {c.reason}
                    </span>
                  );
                })}
                {view.resources
                  .find((r) => r.id === row.resource)
                  ?.busy.map((x) => {
                    const { from, to } = place(x);
                    return (
                      <span
                        key={`${x.day}${x.time}`}
                        className="board-away"
                        title={`${x.summary} ${x.time}–${x.ends}`}
                        style={{ left: from * wide, width: Math.max((to - from) * wide, 4) }}
                      >
                        {to - from >= 1 ? x.summary : ""}
                      </span>
                    );
                  })}
                {view.kept
                  .filter((k) => row.resource !== undefined && k.resource_id === row.resource)
                  .map((k) => {
                    const { from, to } = place(k);
                    return (
                      <KeptBlock
                        key={k.id}
                        kept={k}
                        style={{
                          left: from * wide,
                          width: Math.max((to - from) * wide, 8),
                          top: 2,
                          bottom: 2,
                        }}
                      >
                        {to - from >= 1 ? k.reason : ""}
                      </KeptBlock>
                    );
                  })}
                {placed.map(({ b, list, from, to, lane }) => {
                  const style = {
                    top: 2 + lane * high,
                    height: high - 4,
                    left: from * wide,
                    width: `${Math.max((to - from) * wide, list.length > 1 ? 26 : 14)}px`,
                  };
                  const key = `${b.line}${b.start}`;
                  const open = (one: Booking) => propose(one, { day: one.day, meeting: one.meeting });
                  if (list.length > 1)
                    return <Together key={key} list={list} style={style} move={open} narrow />;
                  return (
                    <Block
                      key={key}
                      b={b}
                      className="bar"
                      sizes={{ day: wide, row: row.resource === undefined ? undefined : high * needs }}
                      moved={(s) => {
                        const other = rows[n + s.rows]?.resource;
                        const rest = b.with.filter((r) => r.id !== row.resource).map((r) => r.id);
                        const to = targetOf(b, s);
                        propose(
                          b,
                          s.rows !== 0 && other !== undefined ? { ...to, with: [...rest, other] } : to,
                        );
                      }}
                      move={() => propose(b, { day: b.day, meeting: b.meeting })}
                      style={style}
                    >
                      {b.customer}
                    </Block>
                  );
                })}
              </div>
            </div>
          );
        })}
      </div>
    </section>
  );
}
