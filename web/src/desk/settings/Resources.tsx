import { Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { Labelled } from "../../shared/Labelled";
import { WholeBox } from "../../shared/questions/boxes";
import { DaysOff } from "../hours/DaysOff";
import { Exceptions } from "../hours/Exceptions";
import { WeekHours } from "../hours/WeekHours";

type Resource = Schemas["Resource"];
type Props = {
  list: Resource[];
  // the number of the next new one
  next: number;
  week: (string[] | null)[];
  set: (list: Resource[]) => void;
  of: (key: string) => string | undefined;
};

// Resources edits the people, rooms and things that bookings take: a person has a
// week, absences and skills, of a thing there can be several equal ones.
export function Resources({ list, next, week, set, of }: Props) {
  const { t } = useTranslation();
  const put = (i: number, part: Partial<Resource>) =>
    set(list.map((r, n) => (n === i ? { ...r, ...part } : r)));
  const [opened, setOpened] = useState<number>();
  const add = (person: boolean) => {
    const id = Math.max(next, ...list.map((r) => r.id + 1));
    setOpened(id);
    set([
      ...list,
      {
        id,
        name: free(person ? t("New person") : t("New room or thing"), list),
        person: person || undefined,
      },
    ]);
  };
  return (
    <>
      {list.length === 0 && (
        <div className="empty">
          {t("Nobody and nothing yet. A product that needs one can be booked only when it is free.")}
        </div>
      )}
      {list.map((r, i) => (
        <details key={r.id} className="resource" open={opened === r.id || undefined}>
          <summary>
            <span className="grow">{r.name}</span>{" "}
            <span className="quiet small">
              {r.person
                ? t("person")
                : (r.number ?? 1) > 1
                  ? t("{{count}} equal ones", { count: r.number })
                  : t("one")}
              {(r.closures?.length ?? 0) > 0 &&
                ` · ${t("{{count}} absences", { count: r.closures?.length })}`}
            </span>
          </summary>
          <div className="pair">
            <Labelled id={`resource-${r.id}-name`} wording={t("Name")} fault={of(`resources[${i}].name`)}>
              <Input
                id={`resource-${r.id}-name`}
                value={r.name}
                maxLength={60}
                onChange={(e) => put(i, { name: e.target.value })}
              />
            </Labelled>
            {r.person ? (
              <Labelled
                id={`resource-${r.id}-skills`}
                wording={t("Skills")}
                help={t("What this person can do; work can ask for one.")}
                fault={of(`resources[${i}].skills`)}
              >
                <Select
                  id={`resource-${r.id}-skills`}
                  mode="tags"
                  value={r.skills ?? []}
                  onChange={(skills) => put(i, { skills: skills.length > 0 ? skills : undefined })}
                />
              </Labelled>
            ) : (
              <Labelled
                id={`resource-${r.id}-number`}
                wording={t("How many equal ones")}
                help={t("One, unless you say otherwise.")}
                fault={of(`resources[${i}].number`)}
              >
                <WholeBox
                  id={`resource-${r.id}-number`}
                  value={r.number}
                  onChange={(number) => put(i, { number })}
                />
              </Labelled>
            )}
          </div>
          <Checkbox
            checked={r.week !== undefined}
            onChange={(e) => put(i, { week: e.target.checked ? week : undefined })}
          >
            {t("hours of its own; without them, whenever a product is open")}
          </Checkbox>
          {r.week && (
            <>
              <WeekHours id={`resource-${r.id}-week`} week={r.week} change={(w) => put(i, { week: w })} />
              <Exceptions list={r.exceptions ?? []} set={(exceptions) => put(i, { exceptions })} />
            </>
          )}
          <h4>{r.person ? t("Absences") : t("Maintenance")}</h4>
          <DaysOff
            closures={r.closures ?? []}
            adds={r.person ? t("Add an absence") : t("Add maintenance")}
            change={(closures) => put(i, { closures: closures.length > 0 ? closures : undefined })}
          />
          <Button size="small" danger onClick={() => set(list.toSpliced(i, 1))}>
            {t("Take {{name}} away", { name: r.name })}
          </Button>
        </details>
      ))}
      <div className="row">
        <Button size="small" onClick={() => add(true)}>
          {t("Add a person")}
        </Button>
        <Button size="small" onClick={() => add(false)}>
          {t("Add a room or thing")}
        </Button>
      </div>
    </>
  );
}

// free gives a name that is not there yet.
function free(name: string, list: Resource[]) {
  for (let n = 1; ; n++) {
    const tried = n === 1 ? name : `${name} ${n}`;
    if (!list.some((r) => r.name === tried)) return tried;
  }
}
