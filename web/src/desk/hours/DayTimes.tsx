import { useTranslation } from "react-i18next";

export type DayTime = { day: string; time: string };

type Props = { name: string; value: DayTime; set: (v: DayTime) => void };

// DayTimes edits a day, and from when to when something is on it.
export function DayTimes({ name, value, set }: Props) {
  const { t } = useTranslation();
  const [from = "", to = ""] = value.time.split("-");
  return (
    <>
      <input
        type="date"
        className="plain-field"
        aria-label={`${name}: ${t("Day")}`}
        value={value.day}
        onChange={(e) => e.target.value && set({ ...value, day: e.target.value })}
      />
      <input
        type="time"
        className="plain-field"
        aria-label={`${name}: ${t("From")}`}
        value={from}
        onChange={(e) => e.target.value && set({ ...value, time: `${e.target.value}-${to}` })}
      />
      <input
        type="time"
        className="plain-field"
        aria-label={`${name}: ${t("To")}`}
        value={to === "24:00" ? "00:00" : to}
        onChange={(e) =>
          e.target.value &&
          set({ ...value, time: `${from}-${e.target.value === "00:00" ? "24:00" : e.target.value}` })
        }
      />
    </>
  );
}
