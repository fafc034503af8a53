import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Months } from "../../days/Months";
import { longDay } from "../../format";
import { Stepper } from "../../Stepper";
import { useToday } from "../../today";
import type { FieldProps } from "../types";

type Booking = { start: string; people: number };

const few = 3; // places of a whole day, from which on it says how many are left

// A booking: for how many people, a day of the month, then one of its times.
export function Field({ id, value, onChange, page, openings, describedBy, disabled }: FieldProps) {
  const { t } = useTranslation();
  const known = useToday();
  const today = known || (openings?.[0]?.day ?? "");
  const chosen = value as Booking | null | undefined;
  const least = page.people?.least ?? 1;
  const most = page.people?.most ?? 1;
  const [people, setPeople] = useState(chosen?.people ?? Math.min(2, most));
  const count = chosen?.people ?? people;
  const setCount = (n: number) => {
    setPeople(n);
    if (chosen) onChange({ ...chosen, people: n });
  };
  const times = new Map<string, NonNullable<typeof openings>>();
  for (const o of openings ?? []) times.set(o.day, [...(times.get(o.day) ?? []), o]);
  // A day is free for so many people when one of its times has room for them.
  const room = (left: number) => (left >= count ? left : 0);
  const days = new Map(
    [...times].map(([day, list]) => {
      const left = Math.max(...list.map((o) => room(o.left)));
      return [day, { left, few: left <= few }];
    }),
  );
  const free = [...days].filter(([, d]) => d.left > 0).map(([day]) => day);
  const own = openings?.find((o) => same(o.start, chosen?.start))?.day;
  const [looked, look] = useState<string>();
  const day = looked ?? own ?? free[0]; // the first free day shows its times at once
  const next = free.find((d) => d > (day ?? "")) ?? free[0];
  return (
    <div className="booking-field" aria-describedby={describedBy}>
      <Stepper value={count} least={least} most={most} disabled={disabled} onChange={setCount}>
        <strong className="num" aria-live="polite">
          {t("{{count}} people", { count })}
        </strong>
      </Stepper>
      <fieldset id={id} className="openings" aria-labelledby={`${id}-label`}>
        {openings && times.size === 0 && (
          <div className="empty">{t("There is no time to book just now.")}</div>
        )}
        {times.size > 0 && (
          <Months
            id={id}
            days={days}
            chosen={day}
            choose={look}
            today={today}
            disabled={disabled}
            labelledBy={`${id}-label`}
          />
        )}
        {times.size > 0 && (
          <div className="opening-day" aria-live="polite">
            {day && (
              <>
                <span>{longDay(day)}</span>
                <div className="row">
                  {(times.get(day) ?? []).map((o) => {
                    const on = same(o.start, chosen?.start);
                    return (
                      <button
                        type="button"
                        key={o.start}
                        className="choice-button opening"
                        aria-pressed={on}
                        disabled={disabled || (o.left < count && !on)}
                        onClick={() => onChange({ start: o.start, people: count })}
                      >
                        <span className="num">
                          {o.time}–{o.ends}
                        </span>
                        <span className="small">
                          {" "}
                          {o.left === 0 ? t("sold out") : t("{{count}} left", { count: o.left })}
                        </span>
                      </button>
                    );
                  })}
                </div>
              </>
            )}
          </div>
        )}
        {next && next !== day && !disabled && (
          <button type="button" className="linkish" onClick={() => look(next)}>
            {t("The next free day")}
          </button>
        )}
      </fieldset>
    </div>
  );
}

const same = (a: string, b?: string) => b !== undefined && new Date(a).getTime() === new Date(b).getTime();
