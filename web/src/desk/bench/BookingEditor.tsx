import { Button, Checkbox } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../shared/Labelled";
import { WholeBox } from "../../shared/questions/boxes";
import { DaysOff } from "../hours/DaysOff";
import { WeekHours } from "../hours/WeekHours";
import { addQuestion, type Draft, keyOf } from "./draft";

type Rule = NonNullable<Draft["booking"]>;
type Props = { draft: Draft; change: (draft: Draft) => void };

const begin: Rule = {
  week: [[], ["09:00-12:00"], ["09:00-12:00"], ["09:00-12:00"], ["09:00-12:00"], ["09:00-12:00"], []],
  length: 60,
  grid: 60,
  places: 1,
  notice: 24,
  horizon: 60,
};

export function BookingEditor({ draft, change }: Props) {
  const { t } = useTranslation();
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
  const box = (
    name: "length" | "grid" | "places" | "least_people" | "most_people" | "notice" | "horizon" | "gap",
    wording: string,
    suffix?: string,
  ) => (
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
      <div className="pair three">
        {box("length", t("Length"), t("minutes"))}
        {box("grid", t("A start every"), t("minutes"))}
        {box("places", t("Places at once"))}
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
        {box("gap", t("Between two bookings"), t("minutes"))}
      </div>
      <h3>{t("Weekly hours")}</h3>
      <WeekHours id="day" week={rule.week} change={(week) => set({ week })} />
      <h3>{t("Days off")}</h3>
      <Checkbox
        checked={rule.through ?? false}
        onChange={(e) => set({ through: e.target.checked || undefined })}
      >
        {t("open also when the business is closed, and on public holidays")}
      </Checkbox>
      <DaysOff
        closures={rule.closures ?? []}
        change={(closures) => set({ closures: closures.length > 0 ? closures : undefined })}
      />
    </>
  );
}
