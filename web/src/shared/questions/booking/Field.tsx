import { useState } from "react";
import { useTranslation } from "react-i18next";
import { longDay } from "../../format";
import { Stepper } from "../../Stepper";
import type { FieldProps } from "../types";

type Booking = { start: string; people: number };

const few = 4;

// A booking: for how many people, then one of the openings that have room.
export function Field({ id, value, onChange, page, openings, describedBy, disabled }: FieldProps) {
  const { t } = useTranslation();
  const chosen = value as Booking | null | undefined;
  const least = page.people?.least ?? 1;
  const most = page.people?.most ?? 1;
  const [people, setPeople] = useState(chosen?.people ?? Math.min(2, most));
  const [more, setMore] = useState(1);
  const count = chosen?.people ?? people;
  const setCount = (n: number) => {
    setPeople(n);
    if (chosen) onChange({ ...chosen, people: n });
  };
  const days = new Map<string, NonNullable<typeof openings>>();
  for (const o of openings ?? []) days.set(o.day, [...(days.get(o.day) ?? []), o]);
  const shown = [...days].filter(
    ([, list], i) => i < few * more || list.some((o) => same(o.start, chosen?.start)),
  );
  return (
    <div className="booking-field" aria-describedby={describedBy}>
      <Stepper value={count} least={least} most={most} disabled={disabled} onChange={setCount}>
        <strong className="num" aria-live="polite">
          {t("{{count}} people", { count })}
        </strong>
      </Stepper>
      <fieldset id={id} className="openings" aria-labelledby={`${id}-label`}>
        {openings && days.size === 0 && (
          <div className="empty">{t("There is no time to book just now.")}</div>
        )}
        {shown.map(([day, list]) => (
          <div key={day} className="opening-day">
            <span>{longDay(day)}</span>
            <div className="row">
              {list.map((o) => {
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
          </div>
        ))}
        {days.size > few * more && (
          <button type="button" className="linkish" onClick={() => setMore(more + 1)}>
            {t("Show later days")}
          </button>
        )}
      </fieldset>
    </div>
  );
}

const same = (a: string, b?: string) => b !== undefined && new Date(a).getTime() === new Date(b).getTime();
