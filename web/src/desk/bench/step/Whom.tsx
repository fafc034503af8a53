import { Select } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { Labelled } from "../../../shared/Labelled";
import { useResources } from "../booking/Needs";
import type { PartProps } from "./parts";

// Whom asks who does the step: anybody, a person, whoever can, or who was booked.
export function Whom({ s, set, booked }: PartProps & { booked: boolean }) {
  const { t } = useTranslation();
  const people = (useResources() ?? []).filter((r) => r.person);
  const skills = [...new Set(people.flatMap((p) => p.skills ?? []))].sort();
  const w = s.who;
  const value = w?.person ? `person ${w.person}` : w?.skill ? `skill ${w.skill}` : w?.booked ? "booked" : "";
  const choose = (next: string) => {
    const [kind, ...rest] = next.split(" ");
    const name = rest.join(" ");
    if (kind === "person") set({ who: { person: Number(name) } });
    else if (kind === "skill") set({ who: { skill: name } });
    else set({ who: kind === "booked" ? { booked: true } : undefined });
  };
  return (
    <>
      <h3>{t("Who does it")}</h3>
      <Labelled id="whom" wording={t("It goes to")}>
        <Select
          id="whom"
          value={value}
          onChange={choose}
          options={[
            { value: "", label: t("anybody who has time") },
            { value: "booked", label: t("the person who was booked"), disabled: !booked },
            ...skills.map((k) => ({ value: `skill ${k}`, label: t("whoever can: {{skill}}", { skill: k }) })),
            ...people.map((p) => ({ value: `person ${p.id}`, label: p.name })),
          ]}
        />
      </Labelled>
      {people.length === 0 && (
        <p className="small quiet">
          {t("There are no people yet.")} <Link to="/settings">{t("They are kept in Settings.")}</Link>
        </p>
      )}
    </>
  );
}
