import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { away, day, local, money, span } from "../../shared/format";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";
import { Late } from "../work/Late";
import { useDecide } from "../work/useDecide";
import { useLoad } from "../work/Work";
import { WorkRow } from "../work/WorkRow";
import { AsksFor, Written } from "./Written";

export function Today() {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const view = useQuery({ queryKey: ["today"], queryFn: () => take(api.GET("/api/desk/today")) });
  const ahead = useLoad();
  const decide = useDecide();
  if (lost(view)) return <Trouble error={view.error} again={() => view.refetch()} />;
  // What will be late stands above all else, and would push it away if it came later.
  if (!view.data || ahead.isPending) return null;
  const { work, customers, coming, load, overdue, awaiting, undecided } = view.data;
  const { talk = [], amendments = [] } = view.data;
  return (
    <main className="desk-page">
      <div className="row">
        <h1>{day(today, today)}</h1>
        <span className="quiet">{session.business}</span>
      </div>
      <Load days={load} today={today} />
      {ahead.data && <Late late={ahead.data.late} today={today} decide={decide} />}
      <Trouble error={decide.problem} />
      <div className="today">
        <Column
          title={t("Waits for me")}
          count={work.length + talk.length + amendments.length + (undecided > 0 ? 1 : 0)}
          empty={t("Nothing is due today or tomorrow.")}
        >
          {undecided > 0 && (
            <Link to="/money/transfers" className="today-row">
              <strong>{t("{{count}} transfers to decide on", { count: undecided })}</strong>
            </Link>
          )}
          {talk.map((m) => (
            <Written key={m.number} of={m} />
          ))}
          {amendments.map((a) => (
            <AsksFor key={a.amendment.id} of={a} />
          ))}
          {work.map((i) => (
            <WorkRow key={i.id} item={i} today={today} people={ahead.data?.people} />
          ))}
        </Column>
        <Column
          title={t("Waits for customers")}
          count={customers.length + overdue.length + (awaiting > 0 ? 1 : 0)}
          empty={t("Every customer has told all that is needed.")}
        >
          {awaiting > 0 && (
            <Link to="/money/transfers" className="today-row">
              <strong>{t("{{count}} orders wait for their transfer", { count: awaiting })}</strong>
            </Link>
          )}
          {overdue.map((w) => (
            <Link key={w.number} to={`/orders/${w.line}`} className="today-row">
              <div className="row">
                <strong>{w.customer}</strong>
                <span className="mark bad">▲ {t("overdue")}</span>
              </div>
              <div className="small">
                {t("{{amount}} of order {{number}}, due {{when}}", {
                  amount: money(w.overdue, w.currency),
                  number: w.number,
                  when: w.due,
                })}
              </div>
            </Link>
          ))}
          {customers.map((c) => (
            <Waiting key={`${c.line} ${c.shown}`} c={c} today={today} zone={session.zone} />
          ))}
        </Column>
        <Column title={t("Comes up")} count={coming.length} empty={t("No bookings in the next two weeks.")}>
          {coming.map((b) => (
            <Link key={b.line} to={`/orders/${b.line}`} className="today-row">
              <div className="row">
                <strong className="num">
                  {day(b.day, today)}, {b.time}
                </strong>
                <span className="quiet small">{away(b.day, today)}</span>
              </div>
              <div>
                {b.customer}, {t("{{count}} people", { count: b.people })}
              </div>
              <div className="quiet small">
                {b.product} · <span className="num">{b.number}</span>
              </div>
            </Link>
          ))}
        </Column>
      </div>
    </main>
  );
}

type ColumnProps = { title: string; count: number; empty: string; children: ReactNode };

function Column({ title, count, empty, children }: ColumnProps) {
  return (
    <section className="today-column" aria-label={title}>
      <h2>
        {title} <span className="quiet num">{count}</span>
      </h2>
      {count === 0 ? <div className="empty">{empty}</div> : children}
    </section>
  );
}

function Waiting({ c, today, zone }: { c: Schemas["WaitingCustomer"]; today: string; zone: string }) {
  const { t } = useTranslation();
  const remind = useChange({
    send: () =>
      take(
        api.POST("/api/desk/dockets/{line}/{action}", {
          params: { path: { line: c.line, action: "remind" } },
        }),
      ),
    refreshes: ["today"],
  });
  return (
    <div className="today-row">
      <div className="row">
        <Link to={`/orders/${c.line}`}>
          <strong>{c.customer}</strong>
        </Link>
        <span className="quiet small">
          {t("since {{when}}", { when: away(local(c.since, zone).day, today) })}
        </span>
      </div>
      <div className="small">
        {c.shown && t("was shown something and has not answered")}
        {c.missing.map((m) => (
          <div key={m}>{m}</div>
        ))}
      </div>
      <div className="row small">
        <span className="quiet grow">{c.product}</span>
        {c.reminded && (
          <span className="quiet">
            {t("reminded {{when}}", { when: away(local(c.reminded, zone).day, today) })}
          </span>
        )}
        {!c.shown && (
          <Button size="small" loading={remind.busy} onClick={() => remind.send()}>
            {t("Remind")}
            <span className="sr"> {c.customer}</span>
          </Button>
        )}
      </div>
      <Trouble error={remind.problem} />
    </div>
  );
}

// Load draws the work placed on each of the next working days against its hours.
function Load({ days, today }: { days: Schemas["DayLoad"][]; today: string }) {
  const { t } = useTranslation();
  const tallest = Math.max(1, ...days.map((d) => Math.max(d.planned, d.hours)));
  return (
    <section className="load" aria-label={t("Work on the coming working days")}>
      {days.map((d) => {
        const over = d.planned > d.hours;
        return (
          <div key={d.day} className="load-day">
            <svg className="load-upright" viewBox="0 0 100 64" preserveAspectRatio="none" role="presentation">
              <rect
                className="load-hours"
                x="0"
                y={64 - (64 * d.hours) / tallest}
                width="100"
                height={(64 * d.hours) / tallest}
              />
              <rect
                className={over ? "load-planned over" : "load-planned"}
                x="0"
                y={64 - (64 * d.planned) / tallest}
                width="100"
                height={(64 * d.planned) / tallest}
              />
            </svg>
            <svg className="load-lying" viewBox="0 0 100 10" preserveAspectRatio="none" role="presentation">
              <rect className="load-hours" x="0" y="0" width={(100 * d.hours) / tallest} height="10" />
              <rect
                className={over ? "load-planned over" : "load-planned"}
                x="0"
                y="0"
                width={(100 * d.planned) / tallest}
                height="10"
              />
            </svg>
            <div className="small">
              <span>{d.day === today ? t("today") : day(d.day, today)}</span>
              <br />
              <span className={over ? "num over" : "num quiet"}>
                {d.planned === 0
                  ? t("free")
                  : over
                    ? t("{{planned}} of {{hours}}", { planned: span(d.planned), hours: span(d.hours) })
                    : span(d.planned)}
              </span>
            </div>
          </div>
        );
      })}
    </section>
  );
}
