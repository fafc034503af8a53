import { Button, Checkbox, Segmented } from "antd";
import { useTranslation } from "react-i18next";
import { digits } from "../../../shared/currency";
import { add } from "../../../shared/days/days";
import { Labelled } from "../../../shared/Labelled";
import { WholeBox } from "../../../shared/questions/boxes";
import { useToday } from "../../../shared/today";
import { DaysOff } from "../../hours/DaysOff";
import { Exceptions } from "../../hours/Exceptions";
import { WeekHours } from "../../hours/WeekHours";
import { addQuestion, type Draft, keyOf } from "../draft";
import { CourseRules } from "./CourseRules";
import { FixedStays } from "./FixedStays";
import { Length } from "./Length";
import { Needs } from "./Needs";
import { Outcome } from "./Outcome";
import { Seasons } from "./Seasons";
import { StayRules } from "./StayRules";

export type Rule = NonNullable<Draft["booking"]>;
type Props = { draft: Draft; change: (draft: Draft) => void };

const begin: Rule = {
  week: [[], ["09:00-12:00"], ["09:00-12:00"], ["09:00-12:00"], ["09:00-12:00"], ["09:00-12:00"], []],
  length: 60,
  grid: 60,
  places: 1,
  notice: 24,
  horizon: 60,
};

// What days and nights begin with: a hire from nine to six, a stay from three in
// the afternoon to ten in the morning.
const beginStays = {
  days: { arrive: 9 * 60, depart: 18 * 60 },
  nights: { arrive: 15 * 60, depart: 10 * 60 },
};

type By = "" | "days" | "nights" | "course";

// A course begins as six evenings a week apart, the first in two weeks.
const beginCourse = (name: string, today: string) => ({
  name,
  meetings: [2, 3, 4, 5, 6, 7].map((n) => ({ day: add(today, n * 7), time: "19:00-20:30" })),
});

type WholeKey =
  | "grid"
  | "places"
  | "least_people"
  | "most_people"
  | "notice"
  | "horizon"
  | "before"
  | "after";

// BookingEditor edits when a product can be booked, for how long, and what that
// takes of people and rooms.
export function BookingEditor({ draft, change }: Props) {
  const { t } = useTranslation();
  const today = useToday();
  const rule = draft.booking;
  if (!rule) {
    const start = () => {
      const q = {
        key: keyOf(
          "booking",
          (draft.questions ?? []).map((x) => x.key),
        ),
        kind: "booking",
        moment: "choosing" as const,
        wording: t("Your time"),
        required: true,
      };
      change(addQuestion({ ...draft, booking: begin, most_units: undefined }, q));
    };
    return (
      <>
        <h2>{t("When it can be booked")}</h2>
        <div className="empty">
          <p>{t("This product is not bookable: it is made when it is ordered.")}</p>
          <Button type="primary" onClick={start}>
            {t("Make it bookable")}
          </Button>
        </div>
      </>
    );
  }
  const set = (part: Partial<Rule>) => change({ ...draft, booking: { ...rule, ...part } });
  const stop = () =>
    change({ ...draft, booking: undefined, questions: draft.questions?.filter((q) => q.kind !== "booking") });
  const by = (rule.by ?? "") as By;
  const timed = by === "";
  const stays = by === "days" || by === "nights" ? by : undefined;
  const count = (next: By) => {
    const rest = {
      ...rule,
      by: next || undefined,
      courses: undefined,
      join: undefined,
      exceptions: next ? undefined : rule.exceptions,
    };
    const lengths = { lengths: undefined, longest: undefined, length_by: undefined };
    const staying = { stays: undefined, fixed: undefined };
    if (next === "") set({ ...begin, ...rest, ...staying });
    else if (next === "course")
      set({
        ...rest,
        ...lengths,
        ...staying,
        private: undefined,
        seasons: undefined,
        closures: undefined,
        through: undefined,
        needs: rule.needs?.map((n) => ({ ...n, choose: undefined })),
        courses: [beginCourse(t("Course"), today)],
      });
    else set({ ...rest, ...lengths, stays: { ...rule.stays, ...beginStays[next] } });
  };
  const box = (name: WholeKey, wording: string, suffix?: string) => (
    <Labelled id={name} wording={wording}>
      <WholeBox id={name} suffix={suffix} value={rule[name]} onChange={(n) => set({ [name]: n })} />
    </Labelled>
  );
  return (
    <>
      <div className="row">
        <h2 className="grow">{t("When it can be booked")}</h2>
        <Button size="small" danger onClick={stop}>
          {t("Make it not bookable")}
        </Button>
      </div>
      <Segmented
        aria-label={t("What is booked")}
        value={by}
        onChange={count}
        options={[
          { value: "", label: t("a time") },
          { value: "days", label: t("days") },
          { value: "nights", label: t("nights") },
          { value: "course", label: t("a course") },
        ]}
      />
      <Outcome by={by} />
      {by === "course" && <CourseRules rule={rule} set={set} />}
      {timed && <Length rule={rule} values={draft.values ?? []} set={set} />}
      {stays && rule.stays && <StayRules stays={rule.stays} by={stays} set={(stays) => set({ stays })} />}
      <div className="pair three">
        {timed && box("grid", t("A start every"), t("minutes"))}
        {box("places", !stays && !rule.private ? t("Places at once") : t("People at once"))}
        {box("least_people", t("Least people a booking"))}
        {box("most_people", t("Most people a booking"))}
        {box("notice", t("Not sooner than"), t("hours"))}
        {box("horizon", t("Not later than"), t("days ahead"))}
        <Labelled id="until" wording={t("And until")}>
          <input
            id="until"
            type="date"
            className="plain-field"
            value={rule.until ?? ""}
            onChange={(e) => set({ until: e.target.value || undefined })}
          />
        </Labelled>
        {box("before", t("Needed before it"), t("minutes"))}
        {box("after", t("Needed after it"), t("minutes"))}
      </div>
      {timed && (
        <Checkbox
          checked={rule.private ?? false}
          onChange={(e) => set({ private: e.target.checked || undefined })}
        >
          {t("a booking has its time for itself, however many people come")}
        </Checkbox>
      )}
      <h3>{t("What it takes")}</h3>
      <Needs rule={rule} questions={draft.questions ?? []} set={(needs) => set({ needs })} />
      {timed && (
        <>
          <h3>{t("Weekly hours")}</h3>
          <WeekHours id="day" week={rule.week} change={(week) => set({ week })} />
          <Exceptions list={rule.exceptions ?? []} set={(exceptions) => set({ exceptions })} />
        </>
      )}
      {by !== "course" && (
        <>
          <h3>{t("Seasons")}</h3>
          <Seasons rule={rule} set={(seasons) => set({ seasons })} />
        </>
      )}
      {stays && (
        <>
          <h3>{t("Fixed stays")}</h3>
          <FixedStays
            list={rule.fixed ?? []}
            digits={digits(draft.currency)}
            currency={draft.currency}
            set={(fixed) => set({ fixed })}
          />
        </>
      )}
      {by !== "course" && (
        <>
          <h3>{t("Days off")}</h3>
          <Checkbox
            checked={rule.through ?? false}
            onChange={(e) => set({ through: e.target.checked || undefined })}
          >
            {t("open also when the business is closed, and on public holidays")}
          </Checkbox>
          <DaysOff
            closures={rule.closures ?? []}
            whole={!timed}
            change={(closures) => set({ closures: closures.length > 0 ? closures : undefined })}
          />
        </>
      )}
    </>
  );
}
