import { type ReactNode, useState } from "react";
import { useTranslation } from "react-i18next";
import { monthOf } from "../../days/days";
import type { BookableDay } from "../../days/source";
import { longDay } from "../../format";
import { Elsewhere } from "./Elsewhere";
import type { Booking } from "./Field";
import { Wait } from "./Wait";

export type Shown = {
  days: Map<string, BookableDay>;
  zone: string;
  month: { month: string; there: boolean; last: string };
  chosen?: Booking;
  disabled?: boolean;
  put: (b: { start: string; end?: string }) => void;
  free: BookableDay[];
  // how the answer reads
  words?: string;
};

type Props = Shown & {
  grid: (at: {
    chosen?: string;
    choose: (day: string) => void;
    refuse?: (day: string) => boolean;
  }) => ReactNode;
  next?: string;
  turnTo: (month: string) => void;
  // a booking has its time for itself
  alone: boolean;
  wait?: Omit<Parameters<typeof Wait>[0], "offers">;
};

// Times is a month, and below it the times of a day.
export function Times({
  days,
  zone,
  month,
  chosen,
  disabled,
  put,
  free,
  grid,
  next,
  turnTo,
  alone,
  wait,
}: Props) {
  const { t } = useTranslation();
  const [looked, look] = useState<string>();
  const own = [...days.values()].find((d) => d.openings.some((o) => same(o.start, chosen?.start)))?.day;
  // The first free day of the month shows its times at once.
  const here = [looked, own].find((d) => d !== undefined && monthOf(d) === month.month);
  const day = here ?? free[0]?.day;
  const soldOut = (day ? (days.get(day)?.openings ?? []) : []).filter((o) => !o.room);
  const later = free.find((d) => d.day > (day ?? ""))?.day ?? next;
  return (
    <>
      {grid({
        chosen: day,
        choose: look,
        // A day that is sold out shows its times too: one can wait for them.
        refuse: (d) => {
          if ((days.get(d)?.openings.length ?? 0) === 0) return false;
          look(d);
          return true;
        },
      })}
      <div className="opening-day" aria-live="polite">
        {day && (
          <>
            <span>{longDay(day)}</span>
            <div className="row">
              {(days.get(day)?.openings ?? []).map((o) => {
                const on = same(o.start, chosen?.start);
                return (
                  <button
                    type="button"
                    key={o.start}
                    className="choice-button opening"
                    aria-pressed={on}
                    disabled={disabled || (!o.room && !on)}
                    onClick={() => put({ start: o.start, end: o.end })}
                  >
                    <span className="num">
                      {o.time}–{o.ends}
                    </span>
                    {o.left === 0 ? (
                      <span className="small"> {t("sold out")}</span>
                    ) : (
                      !alone && <span className="small"> {t("{{count}} left", { count: o.left })}</span>
                    )}
                  </button>
                );
              })}
            </div>
          </>
        )}
        {day && <Elsewhere times={days.get(day)?.openings ?? []} zone={zone} />}
        {!day && month.there && <span className="quiet">{t("Nothing is free in this month.")}</span>}
      </div>
      {wait && day && soldOut.length > 0 && !disabled && (
        <Wait {...wait} offers={soldOut.map((o) => ({ ...o, label: `${o.time}–${o.ends}` }))} />
      )}
      {later && later !== day && !disabled && (
        <button
          type="button"
          className="linkish"
          onClick={() => {
            if (monthOf(later) !== month.month) turnTo(monthOf(later));
            look(later);
          }}
        >
          {t("The next free day")}
        </button>
      )}
    </>
  );
}

const same = (a: string, b?: string) => b !== undefined && new Date(a).getTime() === new Date(b).getTime();
