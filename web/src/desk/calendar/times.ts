import type { Schemas } from "../../shared/api/client";
import { add } from "../../shared/days/days";
import type { Shift } from "./shift";

export type Booking = Schemas["BookingRow"];
export type View = Schemas["CalendarView"];

// Where a booking is moved to.
export type Target = Omit<Schemas["BookingMove"], "version">;

// A time that was pressed, free or not: to order it for somebody, or to keep it.
export type Spot = {
  day: string;
  time: string;
  ends: string;
  last?: string;
  product?: number;
  resource?: number;
};

const day = 1440;

export const minuteOf = (clock: string) => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3, 5));

export const clockOf = (minute: number) =>
  `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;

// targetOf says where a booking stands once it was moved or lengthened.
export function targetOf(b: Booking, s: Shift, resource?: number): Target {
  const others = {
    ...(resource !== undefined && { with: [resource] }),
    ...(b.meeting !== undefined && { meeting: b.meeting }),
  };
  if (b.stay) return { day: add(b.day, s.days), last: add(b.last, s.days + s.longer), ...others };
  const minute = minuteOf(b.time) + s.minutes;
  const over = Math.floor(minute / day);
  return {
    day: add(b.day, s.days + over),
    time: clockOf(minute - over * day),
    ...(s.longer !== 0 && { minutes: b.minutes + s.longer }),
    ...others,
  };
}
