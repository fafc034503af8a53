import { Button, Input } from "antd";
import { useTranslation } from "react-i18next";
import { useToday } from "../../shared/today";

export type Closure = { from: string; to: string; time?: string; reason?: string };
type Props = {
  closures: Closure[];
  change: (closures: Closure[]) => void;
  // what adds one, where it is no day off
  adds?: string;
  // only whole days can be closed
  whole?: boolean;
};

// What hours begin with that are closed on their days.
const hours = "12:00-14:00";

// DaysOff edits stretches of days off, each with its reason, or of some hours that are
// closed on their days.
export function DaysOff({ closures, change, adds, whole }: Props) {
  const { t } = useTranslation();
  const today = useToday();
  const set = (i: number, part: Partial<Closure>) =>
    change(closures.map((c, n) => (n === i ? { ...c, ...part } : c)));
  return (
    <>
      {closures.map((c, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a closure is known by its place
        <div key={i} className="row closure">
          <input
            type="date"
            className="plain-field"
            aria-label={t("First day off")}
            value={c.from}
            onChange={(e) => e.target.value && set(i, { from: e.target.value })}
          />
          –
          <input
            type="date"
            className="plain-field"
            aria-label={t("Last day off")}
            value={c.to}
            onChange={(e) => e.target.value && set(i, { to: e.target.value })}
          />
          {c.time !== undefined && (
            <>
              <Clock
                label={t("Closed from")}
                value={c.time.split("-")[0] ?? ""}
                set={(v) => set(i, { time: `${v}-${c.time?.split("-")[1]}` })}
              />
              –
              <Clock
                label={t("Closed until")}
                value={c.time.split("-")[1] ?? ""}
                set={(v) => set(i, { time: `${c.time?.split("-")[0]}-${v === "00:00" ? "24:00" : v}` })}
              />
            </>
          )}
          <Input
            aria-label={t("Reason")}
            placeholder={t("Reason")}
            value={c.reason ?? ""}
            maxLength={200}
            onChange={(e) => set(i, { reason: e.target.value || undefined })}
          />
          <Button
            size="small"
            aria-label={t("Take these days off away")}
            onClick={() => change(closures.toSpliced(i, 1))}
          >
            ×
          </Button>
        </div>
      ))}
      <div className="row">
        <Button size="small" onClick={() => change([...closures, { from: today, to: today }])}>
          {adds ?? t("Add days off")}
        </Button>
        {!whole && (
          <Button size="small" onClick={() => change([...closures, { from: today, to: today, time: hours }])}>
            {t("Close some hours")}
          </Button>
        )}
      </div>
    </>
  );
}

// Clock keeps a time once it is whole.
function Clock({ label, value, set }: { label: string; value: string; set: (v: string) => void }) {
  return (
    <input
      type="time"
      className="plain-field"
      aria-label={label}
      value={value === "24:00" ? "00:00" : value}
      onChange={(e) => e.target.value && set(e.target.value)}
    />
  );
}
