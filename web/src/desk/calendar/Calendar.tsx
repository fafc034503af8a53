import { useQuery } from "@tanstack/react-query";
import { Button, Segmented, Select } from "antd";
import i18next from "i18next";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, take } from "../../shared/api/client";
import { add, monthOf, monthsApart, sheetOf } from "../../shared/days/days";
import { day as dayName, local } from "../../shared/format";
import { home } from "../../shared/home";
import { lost } from "../../shared/lost";
import { WholeBox } from "../../shared/questions/boxes";
import { Trouble } from "../../shared/Trouble";
import { useAddress } from "../../shared/useAddress";
import { useHere } from "../here";
import { Board } from "./Board";
import { Hours } from "./Hours";
import { KeepDialog } from "./KeepDialog";
import { Month } from "./Month";
import { MoveDialog } from "./MoveDialog";
import type { Booking, Spot, Target } from "./times";
import { Why } from "./Why";

const kinds = ["month", "week", "day", "board"] as const;
type Kind = (typeof kinds)[number];

const boardDays = 28;

// shownIn gives the days that a view around a day shows.
function shownIn(kind: Kind, at: string): string[] {
  if (kind === "month") return sheetOf(monthOf(at)).flat();
  const count = kind === "day" ? 1 : kind === "week" ? 7 : boardDays;
  const weekday = (new Date(`${at}T12:00:00Z`).getUTCDay() + 6) % 7;
  const first = kind === "day" ? at : add(at, -weekday);
  return Array.from({ length: count }, (_, i) => add(first, i));
}

// Calendar shows what is booked and what can be: a month, a week or a day with its
// hours, or a board of people, rooms and things. What is booked is moved and
// lengthened by drag and by keyboard; a day says why it is as it is.
export function Calendar() {
  const { t } = useTranslation();
  const { today } = useHere();
  const [params, show] = useAddress();
  const kind = kinds.find((k) => k === params.get("view")) ?? "week";
  const at = /^\d{4}-\d\d-\d\d$/.test(params.get("day") ?? "") ? (params.get("day") ?? today) : today;
  const [product, setProduct] = useState(0);
  const [resource, setResource] = useState(0);
  const [people, setPeople] = useState<number>();
  const [proposed, propose] = useState<{ b: Booking; to: Target }>();
  const [spot, press] = useState<Spot>();
  const days = shownIn(kind, at);
  const from = days[0] ?? at;
  const to = days.at(-1) ?? at;
  const view = useQuery({
    queryKey: ["calendar", from, to],
    queryFn: () => take(api.GET("/api/desk/calendar", { params: { query: { from, to } } })),
    placeholderData: (old) => old,
  });
  if (lost(view)) return <Trouble error={view.error} again={() => view.refetch()} />;
  if (!view.data) return null;
  const all = view.data;
  const wanted = (b: { product_id: number }) => product === 0 || b.product_id === product;
  const bookings = all.bookings.filter(
    (b) => wanted(b) && (resource === 0 || b.with.some((r) => r.id === resource)),
  );
  const filtered = {
    ...all,
    waits: all.waits.filter(wanted),
    kept: all.kept.filter(
      (k) =>
        (product === 0 || k.product_id === product || k.product_id === undefined) &&
        (resource === 0 || k.resource_id === resource),
    ),
    resources: all.resources.filter((r) => resource === 0 || r.id === resource),
    days: all.days.map((d) => ({
      ...d,
      openings: d.openings.filter((o) => wanted(o) && o.left >= (people ?? 1)),
      stays: d.stays.filter(wanted),
    })),
  };
  const products = new Map<number, string>();
  for (const d of all.days)
    for (const o of [...d.openings, ...d.stays]) products.set(o.product_id, o.product);
  for (const b of all.bookings) products.set(b.product_id, b.product);
  const turn = (by: number) =>
    show({
      day:
        kind === "month"
          ? `${monthsApart(monthOf(at), by)}-01`
          : add(at, by * (kind === "day" ? 1 : kind === "week" ? 7 : boardDays)),
    });
  const names: Record<Kind, string> = {
    month: t("Month"),
    week: t("Week"),
    day: t("Day"),
    board: t("Board"),
  };
  const title =
    kind === "month"
      ? new Intl.DateTimeFormat(i18next.language === "en" ? "en-GB" : i18next.language, {
          month: "long",
          year: "numeric",
          timeZone: "UTC",
        }).format(new Date(`${at}T12:00:00Z`))
      : kind === "day"
        ? dayName(at, today)
        : `${dayName(from, today)} – ${dayName(to, today)}`;
  const open = (day: string) => show({ view: "day", day });
  const offer = (b: Booking, target: Target) => propose({ b, to: target });
  return (
    <main className="desk-page calendar">
      <div className="row calendar-bar">
        <h1>{t("Calendar")}</h1>
        <Button aria-label={t("Before")} onClick={() => turn(-1)}>
          ‹
        </Button>
        <strong className="calendar-title" aria-live="polite">
          {title}
        </strong>
        <Button aria-label={t("After")} onClick={() => turn(1)}>
          ›
        </Button>
        <Button onClick={() => show({ day: today })}>{t("Today")}</Button>
        <span className="grow" />
        <Segmented
          aria-label={t("What is shown")}
          value={kind}
          onChange={(v) => show({ view: v })}
          options={kinds.map((k) => ({ value: k, label: names[k] }))}
        />
      </div>
      <div className="row calendar-filters">
        <Select
          aria-label={t("Only this product")}
          value={product}
          onChange={setProduct}
          options={[
            { value: 0, label: t("all products") },
            ...[...products].map(([value, label]) => ({ value, label })),
          ]}
        />
        {all.resources.length > 0 && (
          <Select
            aria-label={t("Only this person, room or thing")}
            value={resource}
            onChange={setResource}
            options={[
              { value: 0, label: t("all people, rooms and things") },
              ...all.resources.map((r) => ({ value: r.id, label: r.name })),
            ]}
          />
        )}
        {kind !== "board" && (
          <label className="row small" htmlFor="free-for">
            {t("free for")}
            <span className="calendar-people">
              <WholeBox id="free-for" value={people} onChange={setPeople} />
            </span>
            {t("people")}
          </label>
        )}
        <span className="grow" />
        <Button size="small" onClick={() => press({ day: at, time: "09:00", ends: "10:00" })}>
          {t("Keep a time …")}
        </Button>
        <Link to="/orders/new">{t("New order")}</Link>
        <a href={`${home}/api/desk/calendar.csv?from=${from}&to=${to}`} download className="small">
          {t("Save as CSV")}
        </a>
      </div>
      {kind === "month" && <Month view={filtered} month={monthOf(at)} bookings={bookings} go={open} />}
      {(kind === "week" || kind === "day") && (
        <Hours
          view={filtered}
          days={days}
          bookings={bookings}
          people={people ?? 1}
          propose={offer}
          press={press}
          go={open}
        />
      )}
      {kind === "board" && (
        <Board view={filtered} days={days} bookings={bookings} propose={offer} press={press} go={open} />
      )}
      {kind !== "month" && bookings.length > 0 && (
        <p className="quiet small">
          {t(
            "Drag what is booked, or move it with Alt and the arrow keys; with Shift it gets longer. Enter asks, Escape leaves it.",
          )}
        </p>
      )}
      {filtered.waits.length > 0 && (
        <section className="sheet">
          <h2>{t("Waiting for what is booked up")}</h2>
          <ul className="plain-list">
            {filtered.waits.map((w) => (
              <li key={`${w.day}${w.time}${w.name}${w.since}`} className="row">
                <span className="num">
                  {dayName(w.day, today)} {w.time}
                </span>
                <span className="grow">
                  {w.name}, {t("{{count}} people", { count: w.people })} · {w.product}
                  {w.meetings > 0 && `, ${t("{{count}} meetings", { count: w.meetings })}`}
                </span>
                {w.until && (
                  <span className="mark good">
                    {t("held for them until {{time}}", {
                      time: `${dayName(local(w.until, all.zone).day, today)}, ${local(w.until, all.zone).time}`,
                    })}
                  </span>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
      {kind === "day" && <Why day={at} />}
      {spot && (
        <KeepDialog
          key={JSON.stringify(spot)}
          spot={spot}
          products={products}
          view={all}
          close={() => press(undefined)}
        />
      )}
      {proposed && (
        <MoveDialog
          key={`${proposed.b.line}${JSON.stringify(proposed.to)}`}
          booking={proposed.b}
          to={proposed.to}
          close={() => propose(undefined)}
        />
      )}
    </main>
  );
}
