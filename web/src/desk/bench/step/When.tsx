import { Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../../shared/Labelled";
import { WholeBox } from "../../../shared/questions/boxes";
import { useHere } from "../../here";
import type { Step } from "../draft";
import type { WithQuestions } from "./parts";

type Start = Step["start"];

// When asks when the step can be begun and when it is due.
export function When({ s, set, asked, others, booked }: WithQuestions & { others: Step[]; booked: boolean }) {
  const { t } = useTranslation();
  const { today } = useHere();
  const start = (part: Partial<Start>) => set({ start: { ...s.start, ...part } });
  const days = asked.filter((q) => q.kind === "date");
  const begin = (on: Start["on"]) => {
    const asking = others.filter((o) => o.acceptance);
    if (on === "step" || on === "acceptance")
      set({ start: { on, step: (on === "step" ? others : asking)[0]?.key ?? "" } });
    else if (on === "day")
      set({ start: { on, in: "days", ...(days[0] ? { of: days[0].key } : { day: today }) } });
    else set({ start: { on } });
  };
  return (
    <>
      <h3>{t("When")}</h3>
      <div className="pair">
        <Labelled id="start" wording={t("It can be begun")}>
          <Select
            id="start"
            value={s.start.on}
            onChange={begin}
            options={[
              { value: "payment", label: t("once it is paid") },
              { value: "brief", label: t("once all is answered") },
              { value: "step", label: t("after another step") },
              {
                value: "acceptance",
                label: t("when the customer accepted"),
                disabled: !others.some((o) => o.acceptance),
              },
              { value: "booking", label: t("at the booked time"), disabled: !booked },
              { value: "day", label: t("on a day") },
            ]}
          />
          {(s.start.on === "step" || s.start.on === "acceptance") && (
            <Select
              aria-label={t("After which step")}
              className="full"
              value={s.start.step}
              onChange={(step) => start({ step })}
              options={others
                .filter((o) => s.start.on === "step" || o.acceptance)
                .map((x) => ({ value: x.key, label: x.title }))}
            />
          )}
          {s.start.on === "day" && (
            <Select
              aria-label={t("Which day")}
              className="full"
              value={s.start.of ?? ""}
              onChange={(of: string) => start(of ? { of, day: undefined } : { of: undefined, day: today })}
              options={[
                { value: "", label: t("a day of the calendar") },
                ...days.map((q) => ({ value: q.key, label: q.wording })),
              ]}
            />
          )}
          {s.start.on === "day" && !s.start.of && (
            <Input
              type="date"
              aria-label={t("Day")}
              value={s.start.day ?? ""}
              onChange={(e) => e.target.value && start({ day: e.target.value })}
            />
          )}
          {(s.start.on === "booking" || s.start.on === "day") && <Offset start={s.start} set={start} />}
        </Labelled>
        <Labelled id="due" wording={t("It is due within")}>
          <WholeBox
            id="due"
            value={s.due.count}
            onChange={(n) => set({ due: { ...s.due, count: n ?? 0 } })}
          />
          <Select
            aria-label={t("Counted in")}
            className="full"
            value={s.due.rule}
            onChange={(rule) => set({ due: { ...s.due, rule } })}
            options={[
              { value: "working_hours", label: t("working hours") },
              { value: "working_days", label: t("working days") },
              {
                value: "hours_before_booking",
                label: t("hours before the booking"),
                disabled: !booked,
              },
              { value: "days_before_booking", label: t("days before the booking"), disabled: !booked },
              { value: "hours_after_booking", label: t("hours after the booking"), disabled: !booked },
              { value: "days_after_booking", label: t("days after the booking"), disabled: !booked },
            ]}
          />
        </Labelled>
      </div>
    </>
  );
}

// Offset asks how long before or after the booking, or the day.
function Offset({ start, set }: { start: Start; set: (part: Partial<Start>) => void }) {
  const { t } = useTranslation();
  const count = start.count ?? 0;
  const unit = start.in || "hours";
  const value = `${count < 0 ? "before" : "after"} ${unit}`;
  return (
    <div className="row">
      <span className="narrow">
        <WholeBox
          id="offset"
          label={t("How long before or after")}
          value={Math.abs(count) || undefined}
          placeholder="0"
          onChange={(n) => set({ count: (count < 0 ? -1 : 1) * Math.abs(n ?? 0) || undefined })}
        />
      </span>
      <Select
        aria-label={t("Before or after")}
        className="grow"
        value={value}
        onChange={(next: string) => {
          const [side, unit] = next.split(" ") as ["before" | "after", "hours" | "days"];
          set({ in: unit, count: (side === "before" ? -1 : 1) * Math.abs(count || 1) });
        }}
        options={[
          { value: "before hours", label: t("hours before") },
          { value: "before days", label: t("days before") },
          { value: "after hours", label: t("hours after") },
          { value: "after days", label: t("days after") },
        ]}
      />
    </div>
  );
}
