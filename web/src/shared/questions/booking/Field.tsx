import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { monthOf } from "../../days/days";
import { Months } from "../../days/Months";
import { useMonth } from "../../days/source";
import { local } from "../../format";
import { Stepper } from "../../Stepper";
import type { FieldProps } from "../types";
import { Courses } from "./Courses";
import { Lengths, Withs } from "./Narrow";
import { type Begin, Stay } from "./Stay";
import { Times } from "./Times";

export type Booking = {
  start: string;
  end?: string;
  people: number;
  with?: number[];
  // of a course: its meetings, and how many the whole of it has
  meetings?: { start: string; end: string }[];
  of?: number;
};

// A booking: for how many people, how long and with whom where that is open, then
// a day of the month and one of its times; of a stay its first and its last day; of a
// course the course.
export function Field(props: FieldProps) {
  const { id, value, onChange, page, days: source, describedBy, disabled } = props;
  const { t } = useTranslation();
  const today = page.booking?.today ?? "";
  const chosen = (value ?? undefined) as Booking | undefined;
  const least = page.people?.least ?? 1;
  const most = page.people?.most ?? 1;
  const kind = page.booking;
  const course = kind?.by === "course";
  const stays = kind !== undefined && kind.by !== "" && !course;
  const [people, setPeople] = useState(
    chosen?.people ?? Math.min(page.booking?.private ? least : Math.max(least, 2), most),
  );
  const count = chosen?.people ?? people;
  const lengths = kind?.lengths ?? [];
  const [length, setLength] = useState(minutes(chosen) ?? lengths[0]);
  const [picked, setPicked] = useState(chosen?.with ?? []);
  const [begin, setBegin] = useState<Begin>();
  const zone = kind?.zone ?? "UTC";
  const [month, setMonth] = useState(chosen ? monthOf(local(chosen.start, zone).day) : monthOf(today));
  const [moved, setMoved] = useState(chosen !== undefined);
  const [told, tell] = useState<string>();
  const month0 = useMonth(source, month, {
    people: count,
    length: lengths.length > 1 ? length : undefined,
    with: picked.length > 0 ? picked : undefined,
    begin: begin?.day,
  });
  const list = month0.data?.days ?? [];
  const days = new Map(list.map((d) => [d.day, d]));
  const free = list.filter((d) => (d.state === "free" || d.state === "few") && monthOf(d.day) === month);
  const next = month0.data?.next;
  // The first month with something free is shown at once, until somebody goes elsewhere.
  useEffect(() => {
    if (!moved && month0.there && free.length === 0 && next) setMonth(monthOf(next));
  }, [moved, month0.there, free.length, next]);
  const change = (part: Partial<Booking>) => chosen && onChange({ ...chosen, ...part });
  const put = (b: Omit<Booking, "people" | "with">) =>
    onChange({ ...b, people: count, ...(picked.length > 0 && { with: picked }) });
  const shown = {
    days,
    zone,
    month: { month, there: month0.there, last: month0.data?.last ?? today },
    chosen,
    disabled,
    put,
    free,
    words: props.asked?.answered ? props.asked.words : undefined,
  };
  const turnTo = (m: string) => {
    setMoved(true);
    tell(undefined);
    setMonth(m);
  };
  const grid = (at: {
    chosen?: string;
    until?: string;
    choose: (day: string) => void;
    refuse?: (day: string) => boolean;
  }) => (
    <Months
      id={id}
      days={days}
      month={month}
      turnTo={turnTo}
      last={month0.data?.last ?? today}
      today={today}
      disabled={disabled}
      busy={month0.data === undefined ? "all" : month0.there ? undefined : "month"}
      labelledBy={`${id}-label`}
      currency={page.currency}
      refuse={(d) => at.refuse?.(d) || tell(days.get(d)?.why ?? t("Nothing can be booked on this day."))}
      chosen={at.chosen}
      until={at.until}
      choose={(d) => {
        tell(undefined);
        at.choose(d);
      }}
    />
  );
  const courses = month0.data?.courses ?? [];
  const waiting = source?.wait && { id, people: count, picked, wait: source.wait };
  const nothing = month0.there && (course ? courses.length === 0 : list.length === 0 && !next && !moved);
  return (
    <div className="booking-field" aria-describedby={describedBy}>
      {(most > 1 || least > 1) && (
        <Stepper
          value={count}
          least={least}
          most={most}
          disabled={disabled}
          onChange={(n) => {
            setPeople(n);
            change({ people: n });
          }}
        >
          <strong className="num" aria-live="polite">
            {t("{{count}} people", { count })}
          </strong>
        </Stepper>
      )}
      {lengths.length > 1 && (
        <Lengths
          id={`${id}-length`}
          lengths={lengths}
          value={length}
          disabled={disabled}
          choose={(n) => {
            setLength(n);
            if (chosen)
              change({ end: new Date(new Date(chosen.start).getTime() + n * 60_000).toISOString() });
          }}
        />
      )}
      {kind?.needs.map((need) => (
        <Withs
          key={need.name}
          id={`${id}-${need.name}`}
          need={need}
          picked={picked}
          disabled={disabled}
          choose={(list) => {
            setPicked(list);
            change({ with: list.length > 0 ? list : undefined });
          }}
        />
      ))}
      <fieldset id={id} className="openings" aria-labelledby={`${id}-label`}>
        {nothing && <div className="empty">{t("There is no time to book just now.")}</div>}
        {!nothing && source && course && (
          <Courses
            id={id}
            courses={courses}
            chosen={chosen}
            people={count}
            picked={picked}
            zone={zone}
            currency={page.currency}
            disabled={disabled}
            put={put}
            wait={source.wait}
          />
        )}
        {!nothing && source && !stays && !course && (
          <Times
            {...shown}
            grid={grid}
            next={next}
            turnTo={turnTo}
            alone={kind?.private ?? false}
            wait={waiting}
          />
        )}
        {!nothing && source && stays && (
          <Stay
            {...shown}
            nights={kind.by === "nights"}
            grid={grid}
            begin={begin}
            setBegin={setBegin}
            clear={() => onChange(null)}
            wait={waiting}
          />
        )}
        <div className="small quiet booking-told" role="status">
          {told}
        </div>
      </fieldset>
    </div>
  );
}

// minutes gives how long what was chosen is.
function minutes(b?: Booking) {
  return b?.end ? (new Date(b.end).getTime() - new Date(b.start).getTime()) / 60_000 : undefined;
}
