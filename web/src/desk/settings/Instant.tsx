import { day, local } from "../../shared/format";
import { useHere } from "../here";

// Instant shows when something happened, by the business's clock.
export function Instant({ at }: { at: string }) {
  const { session, today } = useHere();
  const here = local(at, session.zone);
  return (
    <time dateTime={at} className="num">
      {day(here.day, today)} {here.time}
    </time>
  );
}
