import { Input } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";

type Props = {
  // begins the ids of its fields
  id: string;
  // the spans of each weekday, Sunday first
  week: (string[] | null)[];
  change: (week: string[][]) => void;
};

// WeekHours edits the hours of a week, Monday first.
export function WeekHours({ id, week, change }: Props) {
  const { t } = useTranslation();
  const whole = Array.from({ length: 7 }, (_, d) => week[d] ?? []);
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
      <p className="small quiet">
        {t("Like 19:00-21:30; several with a comma between them; empty is closed.")}
      </p>
      {[1, 2, 3, 4, 5, 6, 0].map((d) => (
        <HoursRow
          key={d}
          name={names[d] ?? ""}
          id={`${id}-${d}`}
          spans={whole[d] ?? []}
          change={(spans) => change(whole.with(d, spans))}
        />
      ))}
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
