import { Button, Input } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../shared/Labelled";
import { WholeBox } from "../../shared/questions/boxes";
import { useToday } from "../../shared/today";
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
  const box = (
    name: "length" | "grid" | "places" | "least_people" | "most_people" | "notice" | "horizon",
    wording: string,
    suffix?: string,
  ) => (
    <Labelled id={name} wording={wording}>
      <WholeBox id={name} suffix={suffix} value={rule[name]} onChange={(n) => set({ [name]: n })} />
    </Labelled>
  );
  const names = [
    t("Sunday"),
    t("Monday"),
    t("Tuesday"),
    t("Wednesday"),
    t("Thursday"),
    t("Friday"),
    t("Saturday"),
  ];
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
      </div>
      <h3>{t("Weekly hours")}</h3>
      <p className="small quiet">
        {t("Like 19:00-21:30; several with a comma between them; empty is closed.")}
      </p>
      {[1, 2, 3, 4, 5, 6, 0].map((d) => (
        <HoursRow
          key={d}
          name={names[d] ?? ""}
          id={`day-${d}`}
          spans={rule.week[d] ?? []}
          change={(spans) => set({ week: rule.week.with(d, spans) })}
        />
      ))}
      <h3>{t("Days off")}</h3>
      {(rule.closures ?? []).map((c, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a closure is known by its place
        <div key={i} className="row closure">
          <input
            type="date"
            className="plain-field"
            aria-label={t("First day off")}
            value={c.from}
            onChange={(e) =>
              e.target.value && set({ closures: rule.closures?.with(i, { ...c, from: e.target.value }) })
            }
          />
          –
          <input
            type="date"
            className="plain-field"
            aria-label={t("Last day off")}
            value={c.to}
            onChange={(e) =>
              e.target.value && set({ closures: rule.closures?.with(i, { ...c, to: e.target.value }) })
            }
          />
          <Input
            aria-label={t("Reason")}
            placeholder={t("Reason")}
            value={c.reason ?? ""}
            onChange={(e) =>
              set({ closures: rule.closures?.with(i, { ...c, reason: e.target.value || undefined }) })
            }
          />
          <Button
            size="small"
            aria-label={t("Take these days off away")}
            onClick={() => set({ closures: rule.closures?.toSpliced(i, 1) })}
          >
            ×
          </Button>
        </div>
      ))}
      <Button
        size="small"
        onClick={() => {
          set({ closures: [...(rule.closures ?? []), { from: today, to: today }] });
        }}
      >
        {t("Add days off")}
      </Button>
    </>
  );
}

type HoursProps = { name: string; id: string; spans: string[]; change: (spans: string[]) => void };

function HoursRow({ name, id, spans, change }: HoursProps) {
  const { t } = useTranslation();
  const given = spans.join(", ");
  const [text, setText] = useState(given);
  const read = parse(text);
  useEffect(() => setText((old) => (parse(old)?.join(", ") === given ? old : given)), [given]);
  return (
    <div className="hours-row">
      <label htmlFor={id}>{name}</label>
      <Input
        id={id}
        value={text}
        placeholder={t("closed")}
        status={read ? undefined : "error"}
        onChange={(e) => {
          setText(e.target.value);
          const next = parse(e.target.value);
          if (next) change(next);
        }}
      />
    </div>
  );
}

// parse reads "19:00-21:30, 22:00-24:00"; undefined while it is not whole.
function parse(text: string): string[] | undefined {
  const parts = text
    .split(",")
    .map((s) => s.replace(/[\s]/g, "").replace("–", "-"))
    .filter(Boolean);
  const whole = parts.every((p) => {
    const m = /^(\d\d):(\d\d)-(\d\d):(\d\d)$/.exec(p);
    if (!m) return false;
    const [h1, m1, h2, m2] = m.slice(1).map(Number) as [number, number, number, number];
    return m1 < 60 && m2 < 60 && h1 * 60 + m1 < h2 * 60 + m2 && h2 * 60 + m2 <= 1440;
  });
  return whole ? parts : undefined;
}
