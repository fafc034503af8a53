import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";
import { local, longDay } from "../../format";
import type { Shown } from "./Times";

type Props = Shown & {
  nights: boolean;
  grid: (at: { chosen?: string; until?: string; choose: (day: string) => void }) => ReactNode;
  begin?: { day: string; at: string };
  setBegin: (begin?: { day: string; at: string }) => void;
  clear: () => void;
};

// Stay is a month in which two taps choose a stay: its first day and its last.
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
}: Props) {
  const { t } = useTranslation();
  const first = begin?.day ?? (chosen && local(chosen.start, zone).day);
  const last = begin
    ? undefined
    : chosen?.end && local(new Date(new Date(chosen.end).getTime() - 1).toISOString(), zone).day;
  const choose = (day: string) => {
    const at = days.get(day)?.at;
    if (!at) return;
    if (!begin) {
      setBegin({ day, at });
      return;
    }
    setBegin(undefined);
    put({ start: begin.at, end: at });
  };
  const asked = begin
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
      {grid({ chosen: first, until: last, choose })}
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
    </>
  );
}
