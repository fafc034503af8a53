import { useId, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../api/client";
import type { DaysSource } from "../../days/source";
import { longDay, money } from "../../format";
import { Elsewhere } from "./Elsewhere";
import type { Booking } from "./Field";
import { Wait } from "./Wait";

type Course = Schemas["CourseShown"];

type Props = {
  id: string;
  courses: Course[];
  chosen?: Booking;
  people: number;
  picked: number[];
  zone: string;
  currency?: string;
  disabled?: boolean;
  put: (b: Pick<Booking, "start" | "end" | "meetings" | "of">) => void;
  wait?: DaysSource["wait"];
};

// Courses is a list of courses, of which one is chosen as a whole: when it meets, how
// many of its meetings are left, and what is left of its places.
export function Courses({ id, courses, chosen, people, picked, zone, currency, disabled, put, wait }: Props) {
  const { t } = useTranslation();
  const [waited, waitFor] = useState<string>();
  // A chosen one that is not offered like this any more is shown by its words alone.
  return (
    <ul className="courses">
      {courses.map((c) => {
        const booked = bookingOf(c);
        const on = chosen !== undefined && sameMeetings(chosen.meetings, booked.meetings);
        return (
          <li key={c.name}>
            <button
              type="button"
              className="course"
              aria-pressed={on}
              disabled={disabled || (!c.room && !on)}
              onClick={() => put(booked)}
            >
              <span className="row">
                <strong className="grow">{c.name}</strong>
                {currency && c.price !== undefined && <span className="num">{money(c.price, currency)}</span>}
              </span>
              <span className="course-when">
                <Span course={c} />
              </span>
              <span className="small quiet">
                {c.times.length < c.of &&
                  `${t("It has begun: {{left}} of {{of}} meetings are left.", { left: c.times.length, of: c.of })} `}
                {c.room || (c.taken && c.left > 0)
                  ? t("{{count}} places left", { count: c.left })
                  : c.taken
                    ? t("booked up")
                    : c.why}
              </span>
            </button>
            <Dates course={c} open={on} />
            {on && <Elsewhere times={c.times} zone={zone} />}
            {wait && !disabled && c.taken && (
              <div className="course-wait">
                {waited === c.name ? (
                  <Wait
                    id={`${id}-${c.name}`}
                    offers={[{ ...booked, end: booked.end ?? booked.start, label: c.name }]}
                    people={people}
                    picked={picked}
                    wait={wait}
                    open
                  />
                ) : (
                  <button type="button" className="linkish" onClick={() => waitFor(c.name)}>
                    {t("Tell me when a place comes free")}
                    <span className="sr"> {c.name}</span>
                  </button>
                )}
              </div>
            )}
          </li>
        );
      })}
    </ul>
  );
}

const bookingOf = (c: Course) => {
  const meetings = c.times.map(({ start, end }) => ({ start, end }));
  return { start: meetings[0]?.start ?? "", end: meetings.at(-1)?.end, meetings, of: c.of };
};

const sameMeetings = (a?: Booking["meetings"], b?: Booking["meetings"]) =>
  a !== undefined &&
  b !== undefined &&
  a.length === b.length &&
  a.every((m, i) => new Date(m.start).getTime() === new Date(b[i]?.start ?? "").getTime());

// Span says from when to when a course goes, and at what time, if that is always the
// same.
function Span({ course }: { course: Course }) {
  const { t } = useTranslation();
  const first = course.times[0];
  const last = course.times.at(-1);
  if (!first || !last) return null;
  const same = course.times.every((m) => m.time === first.time && m.ends === first.ends);
  return (
    <>
      {t("{{count}} meetings", { count: course.times.length })}, {longDay(first.day)} – {longDay(last.day)}
      {same && (
        <span className="num">
          , {first.time}–{first.ends}
        </span>
      )}
    </>
  );
}

// Dates lists all meetings of a course, at once for the one that is chosen.
function Dates({ course, open }: { course: Course; open: boolean }) {
  const { t } = useTranslation();
  const [asked, ask] = useState(false);
  const list = useId();
  return (
    <div className="course-dates">
      {!open && (
        <button
          type="button"
          className="linkish small"
          aria-expanded={asked}
          aria-controls={list}
          onClick={() => ask(!asked)}
        >
          {asked ? t("Hide the dates") : t("All dates")}
          <span className="sr"> {course.name}</span>
        </button>
      )}
      {(open || asked) && (
        <ol id={list} className="small num" start={course.of - course.times.length + 1}>
          {course.times.map((m) => (
            <li key={m.start}>
              {longDay(m.day)}, {m.time}–{m.ends}
            </li>
          ))}
        </ol>
      )}
    </div>
  );
}
