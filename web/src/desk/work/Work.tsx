import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useSearchParams } from "react-router";
import { api, take } from "../../shared/api/client";
import { away, day, span } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";
import { WorkRow } from "./WorkRow";

export function Work() {
  const { t } = useTranslation();
  const [params] = useSearchParams();
  const steps = params.get("by") === "step";
  return (
    <main className="desk-page">
      <div className="row">
        <h1 className="grow">{t("Work")}</h1>
        <Ways by={steps ? "step" : "day"} />
      </div>
      {steps ? <BySteps /> : <ByDay />}
    </main>
  );
}

// Ways switches between the two ways to look at work.
export function Ways({ by }: { by: "day" | "step" }) {
  const { t } = useTranslation();
  return (
    <nav className="ways" aria-label={t("Look at work")}>
      <Link to="/work" aria-current={by === "day" || undefined}>
        {t("By day")}
      </Link>
      <Link to="/work?by=step" aria-current={by === "step" || undefined}>
        {t("By step")}
      </Link>
    </nav>
  );
}

function ByDay() {
  const { t } = useTranslation();
  const { today } = useHere();
  const [most, setMost] = useState(200);
  const work = useQuery({
    queryKey: ["work", most],
    queryFn: () => take(api.GET("/api/desk/work", { params: { query: { most } } })),
    placeholderData: (old) => old,
  });
  if (work.error) return <Trouble error={work.error} again={() => work.refetch()} />;
  if (!work.data) return null;
  const { late, days, waiting, more } = work.data;
  if (late.length + days.length + waiting.length === 0)
    return <div className="empty">{t("There is no open work. New orders bring it.")}</div>;
  return (
    <>
      {late.length > 0 && (
        <section>
          <h2 className="day-head">
            {t("Late")} <span className="mark bad num">{t("{{count}} items", { count: late.length })}</span>
          </h2>
          {late.map((i) => (
            <WorkRow key={i.id} item={i} today={today} />
          ))}
        </section>
      )}
      {days.map((d) => (
        <section key={d.day}>
          <h2 className="day-head">
            {day(d.day, today)} <span className="quiet small">{away(d.day, today)}</span>
            <span className="grow" />
            <span className={d.planned > d.hours ? "num small over" : "num small quiet"}>
              {d.closed !== undefined
                ? t("{{planned}}, a day without hours", { planned: span(d.planned) })
                : t("{{planned}} of {{hours}}", { planned: span(d.planned), hours: span(d.hours) })}
            </span>
          </h2>
          {d.items.map((i) => (
            <WorkRow key={i.id} item={i} today={today} />
          ))}
        </section>
      ))}
      {waiting.length > 0 && (
        <section>
          <h2 className="day-head">
            {t("Waits for something")}{" "}
            <span className="quiet num small">{t("{{count}} items", { count: waiting.length })}</span>
          </h2>
          {waiting.map((i) => (
            <WorkRow key={i.id} item={i} today={today} />
          ))}
        </section>
      )}
      {more > 0 && (
        <p className="row">
          <span className="quiet">{t("{{count}} more items are open.", { count: more })}</span>
          {most < 1000 && (
            <Button type="link" loading={work.isFetching} onClick={() => setMost(1000)}>
              {t("Show more")}
            </Button>
          )}
        </p>
      )}
    </>
  );
}

function BySteps() {
  const { t } = useTranslation();
  const steps = useQuery({ queryKey: ["steps"], queryFn: () => take(api.GET("/api/desk/steps")) });
  if (steps.error) return <Trouble error={steps.error} again={() => steps.refetch()} />;
  if (steps.data?.length === 0)
    return <div className="empty">{t("There is no open work. New orders bring it.")}</div>;
  return (
    <ul className="step-list">
      {steps.data?.map((s) => (
        <li key={`${s.product}/${s.step}`}>
          <Link to={`/work/${s.product}/${s.step}`}>
            <strong>{s.title}</strong>
            <span className="quiet">{s.product_title}</span>
            <span className="num">{t("{{count}} items", { count: s.open })}</span>
            <span className="num quiet">{span(s.minutes)}</span>
          </Link>
        </li>
      ))}
    </ul>
  );
}
