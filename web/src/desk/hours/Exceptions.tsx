import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { useToday } from "../../shared/today";
import { type DayTime, DayTimes } from "./DayTimes";

type Props = { list: DayTime[]; set: (list: DayTime[] | undefined) => void };

// Exceptions edits the hours of single days, which stand instead of the weekly ones.
export function Exceptions({ list, set }: Props) {
  const { t } = useTranslation();
  const today = useToday();
  return (
    <>
      {list.length > 0 && (
        <ol className="meetings">
          {list.map((x, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: hours are known by their place
            <li key={i}>
              <span />
              <DayTimes
                name={`${t("Other hours")} ${i + 1}`}
                value={x}
                set={(next) => set(list.with(i, next))}
              />
              <Button
                size="small"
                aria-label={t("Take {{name}} away", { name: `${t("Other hours")} ${i + 1}` })}
                onClick={() => set(list.length > 1 ? list.toSpliced(i, 1) : undefined)}
              >
                ×
              </Button>
            </li>
          ))}
        </ol>
      )}
      <Button size="small" onClick={() => set([...list, { day: today, time: "10:00-14:00" }])}>
        {t("Other hours on a day")}
      </Button>
    </>
  );
}
