import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { away, day, span } from "../../shared/format";
import { useHere } from "../here";
import type { Item } from "./useDecide";
import { WorkRow } from "./WorkRow";

export type ListProps = {
  work: Schemas["WorkByDay"];
  load?: Schemas["WorkLoad"];
  move: (item: Item) => void;
};

// ByDay lists the open work under the day on which it is to be done.
export function ByDay({ work, load, move }: ListProps) {
  const { t } = useTranslation();
  const { today } = useHere();
  const { late, days, waiting } = work;
  const rows = (items: Item[]) =>
    items.map((i) => <WorkRow key={i.id} item={i} today={today} people={load?.people} move={move} />);
  return (
    <>
      {late.length > 0 && (
        <section>
          <h2 className="day-head">
            {t("Late")} <span className="mark bad num">{t("{{count}} items", { count: late.length })}</span>
          </h2>
          {rows(late)}
        </section>
      )}
      {days.map((d) => (
        <section key={d.day}>
          <h2 className="day-head">
            {day(d.day, today)} <span className="quiet small">{away(d.day, today)}</span>
            <span className="grow" />
            <span className={d.planned > d.hours ? "num small over" : "num small quiet"}>
              {d.hours === 0
                ? t("{{planned}}, a day without hours", { planned: span(d.planned) })
                : t("{{planned}} of {{hours}}", { planned: span(d.planned), hours: span(d.hours) })}
            </span>
          </h2>
          {rows(d.items)}
        </section>
      ))}
      {waiting.length > 0 && (
        <section>
          <h2 className="day-head">
            {t("Waits for something")}{" "}
            <span className="quiet num small">{t("{{count}} items", { count: waiting.length })}</span>
          </h2>
          {rows(waiting)}
        </section>
      )}
    </>
  );
}
