import { useLayoutEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { day as dayName } from "../../shared/format";
import { Block } from "./Block";
import { KeptBlock } from "./KeptBlock";
import { lanes } from "./lanes";
import { shared, Together } from "./Together";
import { type Booking, clockOf, minuteOf, type Spot, type Target, targetOf, type View } from "./times";

type Props = {
  view: View;
  days: string[];
  bookings: Booking[];
  people: number;
  propose: (b: Booking, to: Target) => void;
  press: (spot: Spot) => void;
  go: (day: string) => void;
};

const minute = 0.9; // pixels
const step = 15; // minutes to which a press rounds
const usual = { from: 8 * 60, to: 20 * 60 };

// Hours shows days side by side with their hours: what can be booked at the left of
// each, who comes beside it, and stays above.
export function Hours({ view, days, bookings, people, propose, press, go }: Props) {
  const { t } = useTranslation();
  const grid = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(100);
  useLayoutEffect(() => {
    const box = grid.current;
    if (!box) return;
    const look = new ResizeObserver(() => setWidth(box.clientWidth / days.length));
    look.observe(box);
    return () => look.disconnect();
  }, [days.length]);
  const at = new Map(view.days.map((d) => [d.day, d]));
  const timed = bookings.filter((b) => !b.stay && days.includes(b.day));
  const stays = bookings.filter((b) => b.stay);
  const openings = days.flatMap((d) => at.get(d)?.openings ?? []);
  const begins = [...timed.map((b) => minuteOf(b.time)), ...openings.map((o) => minuteOf(o.time))];
  const ends = [
    ...timed.map((b) => minuteOf(b.time) + b.minutes),
    ...openings.map((o) => minuteOf(o.time) + o.minutes),
  ];
  const from = Math.floor(Math.min(usual.from, ...begins) / 60) * 60;
  const to = Math.min(Math.ceil(Math.max(usual.to, ...ends) / 60) * 60, 1440);
  const y = (m: number) => (m - from) * minute;
  const hours = Array.from({ length: (to - from) / 60 }, (_, i) => from + i * 60);
  // A press on an empty spot is an hour from there; a drag is as long as it goes.
  const [drawn, draw] = useState<{ day: string; from: number; to: number }>();
  const at0 = (e: React.PointerEvent) =>
    Math.min(
      Math.floor(((e.clientY - e.currentTarget.getBoundingClientRect().top) / minute + from) / step) * step,
      1440 - step,
    );
  const drawing = (day: string) => ({
    onPointerDown: (e: React.PointerEvent) => {
      if (e.target !== e.currentTarget || e.button !== 0) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      draw({ day, from: at0(e), to: at0(e) });
    },
    onPointerMove: (e: React.PointerEvent) => {
      if (drawn?.day === day) draw({ ...drawn, to: Math.max(at0(e), drawn.from) });
    },
    // Where it is let go counts, also where the last move was not drawn yet.
    onPointerUp: (e: React.PointerEvent) => {
      if (drawn?.day !== day) return;
      draw(undefined);
      const to = Math.max(at0(e), drawn.from);
      const end = to > drawn.from ? to + step : drawn.from + 60;
      press({ day, time: clockOf(drawn.from), ends: clockOf(Math.min(end, 1440) % 1440) });
    },
    onPointerCancel: () => draw(undefined),
  });
  // A day has room for each, a week only for what is shared.
  const put = (list: Booking[]) => (days.length === 1 ? list.map((b) => [b]) : shared(list));
  const columns = { gridTemplateColumns: `52px repeat(${days.length}, minmax(0, 1fr))` };
  return (
    <div className="calendar-hours">
      <div className="calendar-heads" style={columns}>
        <span />
        {days.map((d) => {
          const x = at.get(d);
          return (
            <div key={d} className={d === view.today ? "calendar-head is-today" : "calendar-head"}>
              <button type="button" className="linkish" onClick={() => go(d)}>
                {dayName(d, view.today)}
              </button>
              {x?.closed && <span className="mark plain">{x.closed}</span>}
              {(x?.work ?? 0) > 0 && (
                <Link to="/work" className="small">
                  {t("{{count}} due", { count: x?.work })}
                </Link>
              )}
              {stays
                .filter((b) => b.day <= d && b.last >= d)
                .map((b) => (
                  <Link key={`${b.line}${b.start}`} to={`/orders/${b.line}`} className="calendar-chip stay">
                    {b.day < d ? "→ " : ""}
                    {b.customer}, {b.product}
                  </Link>
                ))}
            </div>
          );
        })}
      </div>
      <div className="calendar-columns" style={{ height: y(to) }}>
        <div className="calendar-axis" aria-hidden="true">
          {hours.map((m) => (
            <span key={m} className="small quiet num" style={{ top: y(m) }}>
              {clockOf(m)}
            </span>
          ))}
        </div>
        <div ref={grid} className="calendar-grid">
          {days.map((d, column) => (
            <div
              key={d}
              className="calendar-column"
              {...drawing(d)}
              style={{ left: `${(column * 100) / days.length}%`, width: `${100 / days.length}%` }}
            >
              {drawn?.day === d && drawn.to > drawn.from && (
                <span
                  className="calendar-drawn num"
                  style={{ top: y(drawn.from), height: (drawn.to + step - drawn.from) * minute }}
                >
                  {clockOf(drawn.from)}–{clockOf((drawn.to + step) % 1440)}
                </span>
              )}
              {lanes(
                (at.get(d)?.openings ?? [])
                  .filter((o) => o.left >= people)
                  .map((o) => ({ ...o, from: minuteOf(o.time), to: minuteOf(o.time) + o.minutes })),
              ).map((o) => {
                const free = {
                  className: "calendar-free",
                  title: `${o.product} ${o.time}–${o.ends}: ${o.private ? t("free") : t("{{count}} left", { count: o.left })}`,
                  style: {
                    top: y(o.from),
                    height: (o.to - o.from) * minute - 2,
                    left: `${(o.lane * 34) / o.of}%`,
                    width: `calc(${34 / o.of}% - 2px)`,
                  },
                };
                const key = `${o.product_id}${o.start}`;
                const left = o.private ? t("free") : o.left;
                // In a week it is too narrow to be pressed: the spot behind it is.
                if (days.length > 1)
                  return (
                    <span key={key} {...free}>
                      {left}
                    </span>
                  );
                return (
                  <button
                    type="button"
                    key={key}
                    {...free}
                    onClick={() => press({ day: d, time: o.time, ends: o.ends, product: o.product_id })}
                  >
                    {left} · {o.product}
                  </button>
                );
              })}
              {lanes(
                view.kept
                  .filter((k) => k.day <= d && k.last >= d)
                  .map((k) => ({
                    k,
                    from: Math.max(k.day < d ? 0 : minuteOf(k.time), from),
                    to: Math.min(k.last > d || k.ends === "00:00" ? 1440 : minuteOf(k.ends), to),
                  }))
                  .filter((x) => x.to > x.from),
              ).map(({ k, lane, of, from: begin, to: end }) => (
                <KeptBlock
                  key={k.id}
                  kept={k}
                  style={{
                    top: y(begin),
                    height: (end - begin) * minute - 2,
                    left: `${(lane * 34) / of}%`,
                    width: `calc(${34 / of}% - 2px)`,
                  }}
                >
                  {k.reason || k.name}
                </KeptBlock>
              ))}
              {lanes(
                put(timed.filter((b) => b.day === d)).map((list) => ({
                  list,
                  from: minuteOf(list[0]?.time ?? "00:00"),
                  to: minuteOf(list[0]?.time ?? "00:00") + (list[0]?.minutes ?? 0),
                })),
              ).map(({ list, lane, of, from: begin, to: end }) => {
                const b = list[0];
                if (!b) return null;
                const key = `${b.line}${b.start}`;
                const move = (one: Booking) => propose(one, { day: one.day, meeting: one.meeting });
                const style = {
                  top: y(begin),
                  height: (end - begin) * minute - 2,
                  left: `${35 + (lane * 65) / of}%`,
                  width: `calc(${65 / of}% - 2px)`,
                };
                if (list.length > 1) return <Together key={key} list={list} style={style} move={move} />;
                return (
                  <Block
                    key={key}
                    b={b}
                    sizes={{ day: width, minute }}
                    moved={(s) => propose(b, targetOf(b, s))}
                    move={() => move(b)}
                    style={style}
                  >
                    <span className="num small">
                      {b.time}–{b.ends}
                    </span>
                    <span>
                      {b.customer} {b.people > 1 && <span className="small num">{b.people}</span>}
                    </span>
                    <span className="small calendar-what">
                      {b.product}
                      {b.meeting !== undefined && ` ${b.meeting}/${b.meetings}`}
                    </span>
                  </Block>
                );
              })}
            </div>
          ))}
          {hours.map((m) => (
            <span key={m} className="calendar-line" style={{ top: y(m) }} aria-hidden="true" />
          ))}
        </div>
      </div>
    </div>
  );
}
