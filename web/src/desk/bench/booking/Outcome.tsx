import { useContext, useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { monthOf, monthsApart } from "../../../shared/days/days";
import { Months } from "../../../shared/days/Months";
import { useMonth } from "../../../shared/days/source";
import { day } from "../../../shared/format";
import { useToday } from "../../../shared/today";
import { DaysContext, useTrial } from "../trial";

// Outcome shows what a booking rule makes, while it is edited: the coming months, how
// much can be booked, and which bookings it would not take any more.
export function Outcome({ by }: { by: "" | "days" | "nights" | "course" }) {
  const { t } = useTranslation();
  const today = useToday();
  const source = useContext(DaysContext);
  const trial = useTrial();
  const people = trial?.page?.people?.least ?? 1;
  const [month, setMonth] = useState(monthOf(today));
  const [why, setWhy] = useState<string>();
  const one = useMonth(source, month, { people });
  const two = useMonth(source, monthsApart(month, 1), { people });
  const data = one.data;
  // biome-ignore lint/correctness/useExhaustiveDependencies: another rule has another reason
  useEffect(() => setWhy(undefined), [source]);
  const days = new Map([...(data?.days ?? []), ...(two.data?.days ?? [])].map((d) => [d.day, d]));
  const grid = (m: string, key: string) => (
    <Months
      id={`outcome-${key}`}
      days={days}
      month={m}
      turnTo={(to) => setMonth(key === "second" ? monthsApart(to, -1) : to)}
      last={data?.last ?? today}
      choose={(d) => setWhy(`${day(d, today)}: ${t("free")}`)}
      refuse={(d) =>
        setWhy(`${day(d, today)}: ${days.get(d)?.why ?? t("Nothing can be booked on this day.")}`)
      }
      today={today}
      busy={data === undefined ? "all" : undefined}
      currency={trial?.page?.currency}
    />
  );
  return (
    <section className="outcome" aria-label={t("What it makes")}>
      {by !== "course" && (
        <div className="outcome-months">
          {grid(month, "first")}
          {grid(monthsApart(month, 1), "second")}
        </div>
      )}
      {by === "course" && (
        <ul className="plain-list">
          {(data?.courses ?? []).map((c) => (
            <li key={c.name}>
              <strong>{c.name}</strong>{" "}
              {t("{{left}} of {{of}} meetings are left", { left: c.times.length, of: c.of })},{" "}
              {day(c.times[0]?.day ?? today, today)} – {day(c.times.at(-1)?.day ?? today, today)} ·{" "}
              {c.why ?? t("{{count}} left", { count: c.left })}
            </li>
          ))}
        </ul>
      )}
      <p role="status">
        <strong>
          {data?.count !== undefined &&
            {
              "": t("{{count}} times can be booked.", { count: data.count }),
              days: t("A stay can begin on {{count}} days.", { count: data.count }),
              nights: t("A stay can begin on {{count}} days.", { count: data.count }),
              course: t("{{count}} courses can be booked.", { count: data.count }),
            }[by]}
          {data?.nights !== undefined &&
            ` ${by === "days" ? t("{{count}} days can be had.", { count: data.nights }) : t("{{count}} nights can be had.", { count: data.nights })}`}
        </strong>{" "}
        <span className="quiet">{why}</span>
      </p>
      {data?.broken && data.broken.length > 0 && (
        <div className="notice attention">
          {t("{{count}} bookings would not fit this rule. They stay until you move or cancel them:", {
            count: data.broken.length,
          })}
          <ul className="small">
            {data.broken.map((b) => (
              <li key={`${b.line}${b.start}`}>
                {day(b.day, today)} {!b.stay && b.time} · <Link to={`/orders/${b.line}`}>{b.customer}</Link>
              </li>
            ))}
          </ul>
        </div>
      )}
    </section>
  );
}
