import { useDroppable } from "@dnd-kit/core";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { day } from "../../shared/format";

type Load = Schemas["WorkLoad"];

// LoadBoard draws the hours of each person on the coming days, and the work that is
// placed into them. An item can be dropped on a person's day.
export function LoadBoard({ load, today }: { load: Load; today: string }) {
  const { t } = useTranslation();
  const people =
    load.people.length > 0 ? load.people : [{ id: 0, name: t("Everybody"), me: false, skills: [] }];
  const tallest = Math.max(1, ...load.days.flatMap((d) => d.loads.map((l) => l.hours)));
  if (load.days.length === 0) return null;
  return (
    <div className="load-board-frame">
      <table className="load-board" aria-label={t("Work and hours by person and day")}>
        <thead>
          <tr>
            <th />
            {load.days.map((d) => (
              <th key={d.day} scope="col">
                {d.day === today ? t("today") : day(d.day, today)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {people.map((p) => (
            <tr key={p.id}>
              <th scope="row">
                {p.name}
                {p.skills.length > 0 && <div className="small quiet">{p.skills.join(", ")}</div>}
              </th>
              {load.days.map((d) => (
                <Cell
                  key={d.day}
                  person={p}
                  day={d.day}
                  load={d.loads.find((l) => l.person === p.id)}
                  tallest={tallest}
                />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

type CellProps = {
  person: Schemas["WorkPerson"];
  day: string;
  load?: Schemas["PersonLoad"];
  tallest: number;
};

function Cell({ person, day, load, tallest }: CellProps) {
  const { t } = useTranslation();
  const { setNodeRef, isOver } = useDroppable({ id: `${person.id} ${day}` });
  const hours = load?.hours ?? 0;
  const planned = load?.planned ?? 0;
  const full = planned >= hours;
  return (
    <td
      ref={setNodeRef}
      className={isOver ? "load-cell target" : "load-cell"}
      data-cell={`${person.name} ${day}`}
    >
      {hours === 0 ? (
        <span className="quiet small">{t("away")}</span>
      ) : (
        <>
          <svg className="load-bar" viewBox="0 0 100 8" preserveAspectRatio="none" role="presentation">
            <rect className="load-hours" x="0" y="0" width={(100 * hours) / tallest} height="8" />
            <rect
              className={full ? "load-planned full" : "load-planned"}
              x="0"
              y="0"
              width={(100 * planned) / tallest}
              height="8"
            />
          </svg>
          <span className="small num">
            {planned === 0
              ? t("{{hours}} free", { hours: clock(hours) })
              : `${clock(planned)} / ${clock(hours)}`}
          </span>
        </>
      )}
    </td>
  );
}

// clock writes minutes as hours and minutes, "6:30".
const clock = (minutes: number) => `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, "0")}`;
