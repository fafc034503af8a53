import { type ReactNode, useState } from "react";
import { useTranslation } from "react-i18next";
import { local, longDay } from "../../format";
import type { Shown } from "./Times";
import { Wait } from "./Wait";

type Props = Shown & {
  nights: boolean;
  grid: (at: {
    chosen?: string;
    until?: string;
    choose: (day: string) => void;
    refuse?: (day: string) => boolean;
  }) => ReactNode;
  begin?: Begin;
  setBegin: (begin?: Begin) => void;
  clear: () => void;
  wait?: Omit<Parameters<typeof Wait>[0], "offers">;
};

// The first day of a stay; taken, when it is booked up and can only be waited for.
export type Begin = { day: string; at: string; taken?: boolean };

// Stay is a month in which two taps choose a stay: its first day and its last. Two taps
// on days that are booked up choose a stay to wait for.
export function Stay({
  days,
  zone,
  chosen,
  disabled,
  put,
  nights,
  grid,
  begin,
  setBegin,
  clear,
  words,
  wait,
}: Props) {
  const { t } = useTranslation();
  const [wish, setWish] = useState<{ start: string; end: string; label: string }>();
  const first = begin?.day ?? (chosen && local(chosen.start, zone).day);
  const last = begin
    ? undefined
    : chosen?.end && local(new Date(new Date(chosen.end).getTime() - 1).toISOString(), zone).day;
  const choose = (day: string) => {
    const at = days.get(day)?.at;
    if (!at) return;
    setWish(undefined);
    if (!begin) {
      setBegin({ day, at });
      return;
    }
    setBegin(undefined);
    put({ start: begin.at, end: at });
  };
  // What is booked up is chosen too, to be waited for.
  const refuse = (day: string) => {
    const d = days.get(day);
    if (!wait || disabled || d?.state !== "sold_out" || !d.at) return false;
    if (!begin) {
      setWish(undefined);
      setBegin({ day, at: d.at, taken: true });
    } else {
      setBegin(undefined);
      setWish({ start: begin.at, end: d.at, label: `${longDay(begin.day)} – ${longDay(day)}` });
    }
    return true;
  };
  const asked = begin?.taken
    ? t("It is booked up. Tap the last day too, and you can wait for it.")
    : begin
      ? nights
        ? t("Now the day of departure.")
        : t("Now the last day.")
      : chosen
        ? t("Tap another first day to choose again.")
        : nights
          ? t("The day of arrival, please.")
          : t("The first day, please.");
  return (
    <>
      {grid({ chosen: first, until: last, choose, refuse })}
      <div className="opening-day" aria-live="polite">
        <span>
          {first && !last && longDay(first)}
          {first && last && (words ?? `${longDay(first)} – ${longDay(last)}`)}
        </span>
        <div className="row">
          <span className="quiet small">{asked}</span>
          {(begin || chosen) && !disabled && (
            <button
              type="button"
              className="linkish"
              onClick={() => {
                setBegin(undefined);
                if (!begin) clear();
              }}
            >
              {t("Start again")}
            </button>
          )}
        </div>
      </div>
      {wait && wish && (
        <div className="booking-wish">
          <strong>{wish.label}</strong>
          <Wait key={wish.label} {...wait} offers={[wish]} open />
        </div>
      )}
    </>
  );
}
