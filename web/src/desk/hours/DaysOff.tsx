import { Button, Input } from "antd";
import { useTranslation } from "react-i18next";
import { useToday } from "../../shared/today";

export type Closure = { from: string; to: string; reason?: string };
type Props = {
  closures: Closure[];
  change: (closures: Closure[]) => void;
  // what adds one, where it is no day off
  adds?: string;
};

// DaysOff edits stretches of days off, each with its reason.
export function DaysOff({ closures, change, adds }: Props) {
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
      <Button size="small" onClick={() => change([...closures, { from: today, to: today }])}>
        {adds ?? t("Add days off")}
      </Button>
    </>
  );
}
