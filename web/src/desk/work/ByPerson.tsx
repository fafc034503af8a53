import { useTranslation } from "react-i18next";
import { span } from "../../shared/format";
import { useHere } from "../here";
import type { ListProps } from "./ByDay";
import type { Item } from "./useDecide";
import { WorkRow } from "./WorkRow";

// ByPerson lists for each person what they are to do, in the order of the schedule.
export function ByPerson({ work, load, move }: ListProps) {
  const { t } = useTranslation();
  const { today } = useHere();
  const all = [...work.late, ...work.days.flatMap((d) => d.items), ...work.waiting];
  const of = (person?: number) => all.filter((i) => i.person === person);
  const people = [
    ...(load?.people ?? []).map((p) => ({ id: p.id as number | undefined, name: p.name })),
    { id: undefined, name: t("Nobody yet") },
  ];
  const sum = (items: Item[]) => span(items.reduce((n, i) => n + i.minutes, 0));
  return (
    <div className="by-person">
      {people.map((p) => {
        const items = of(p.id);
        if (items.length === 0 && p.id === undefined) return null;
        return (
          <section key={p.name}>
            <h2 className="day-head">
              {p.name}
              <span className="grow" />
              <span className="quiet num small">
                {t("{{count}} items", { count: items.length })}, {sum(items)}
              </span>
            </h2>
            {items.length === 0 && <p className="quiet">{t("Nothing to do.")}</p>}
            {items.map((i) => (
              <WorkRow key={i.id} item={i} today={today} people={load?.people} move={move} />
            ))}
          </section>
        );
      })}
    </div>
  );
}
