import { local, longDay } from "../../format";
import type { Booking } from "./Field";

type Props = { value: unknown; zone: string };

// Meetings lists those of a booked course; nothing of what is none.
export function Meetings({ value, zone }: Props) {
  const booked = value as Booking | null | undefined;
  const list = booked?.meetings ?? [];
  if (list.length === 0) return null;
  return (
    <ol className="booked-meetings small num" start={(booked?.of ?? list.length) - list.length + 1}>
      {list.map((m) => (
        <li key={m.start}>
          {longDay(local(m.start, zone).day)}, {local(m.start, zone).time}–{local(m.end, zone).time}
        </li>
      ))}
    </ol>
  );
}
