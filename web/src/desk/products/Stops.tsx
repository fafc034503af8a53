import { useQuery } from "@tanstack/react-query";
import { Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams, useSearchParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day } from "../../shared/format";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";

type Edition = Schemas["StopsEdition"];

// Stops shows how far customers come with a product: from opening its page along its
// questions to a complete brief, for an edition and for another one beside it.
export function Stops() {
  const { t } = useTranslation();
  const { today } = useHere();
  const { id = "" } = useParams();
  const [params, setParams] = useSearchParams();
  const days = Number(params.get("days") ?? 30);
  const stops = useQuery({
    queryKey: ["stops", id, days],
    queryFn: () =>
      take(
        api.GET("/api/desk/products/{id}/stops", { params: { path: { id: Number(id) }, query: { days } } }),
      ),
  });
  const [beside, setBeside] = useState<number>();
  const [of, setOf] = useState<number>();
  if (lost(stops)) return <Trouble error={stops.error} again={() => stops.refetch()} />;
  const s = stops.data;
  if (!s) return null;
  const first = s.editions.find((e) => e.number === of) ?? s.editions[0];
  const second = s.editions.find((e) => e.number === beside && e.number !== first?.number);
  const choices = s.editions.map((e) => ({
    value: e.number,
    label: e.on_sale ? t("edition {{n}}, on sale", { n: e.number }) : t("edition {{n}}", { n: e.number }),
  }));
  return (
    <main className="desk-page stack">
      <div className="row">
        <h1 className="grow">{t("Where customers stop: {{title}}", { title: s.title })}</h1>
        <Link to={`/products/${id}`}>{t("To the bench")}</Link>
      </div>
      <div className="row">
        <Select
          aria-label={t("Days")}
          value={days}
          onChange={(n) => setParams({ days: String(n) }, { replace: true })}
          options={[7, 30, 90, 365].map((n) => ({ value: n, label: t("the last {{n}} days", { n }) }))}
        />
        {first && (
          <Select aria-label={t("Edition")} value={first.number} onChange={setOf} options={choices} />
        )}
        {first && s.editions.length > 1 && (
          <Select
            aria-label={t("Compared with")}
            value={second?.number ?? 0}
            onChange={(n) => setBeside(n || undefined)}
            options={[
              { value: 0, label: t("compared with none") },
              ...choices
                .filter((c) => c.value !== first.number)
                .map((c) => ({ ...c, label: t("compared with {{what}}", { what: c.label }) })),
            ]}
          />
        )}
        <span className="quiet small">
          {t("{{from}} to {{to}}. Counted here, without cookies and without who it was.", {
            from: day(s.from, today),
            to: day(s.to, today),
          })}
        </span>
      </div>
      {first && (seen(first) || second) ? (
        <Plot first={first} second={second} />
      ) : (
        <div className="empty">
          {t("Nobody has opened it in these days. What you do while you are signed in is not counted.")}
        </div>
      )}
    </main>
  );
}

// seen says whether anybody saw or bought an edition.
const seen = (e: Edition) => e.opened + e.returned + e.began + e.paid > 0;

type Stage = {
  key: string;
  name: string;
  n: number;
  question?: Schemas["StopsQuestion"];
  head?: boolean;
};

// useStages gives the stages of an edition in the order in which customers meet them.
function useStages() {
  const { t } = useTranslation();
  return (e: Edition): Stage[] => {
    const asked = (moment: string) =>
      e.questions
        .filter((q) => q.moment === moment)
        .map((q) => ({ key: q.key, name: q.wording, n: q.reached, question: q }));
    const stage = (key: string, name: string, n: number) => ({ key: `@${key}`, name, n, head: true });
    return [
      stage("opened", t("opened the page"), e.opened),
      stage("returned", t("came back to it"), e.returned),
      stage("began", t("began to answer"), e.began),
      ...asked("choosing"),
      stage("added", t("put it into the basket"), e.added),
      ...asked("paying"),
      stage("prepared", t("filled in the checkout"), e.prepared),
      stage("paid", t("paid"), e.paid),
      ...asked("briefing"),
      stage("briefed", t("told all that is needed"), e.briefed),
    ];
  };
}

// Plot has a row for each stage: how many came there, and how long they were at a
// question against the estimate.
function Plot({ first, second }: { first: Edition; second?: Edition }) {
  const { t } = useTranslation();
  const stages = useStages();
  const own = new Map(stages(first).map((s) => [s.key, s]));
  const others = new Map(second ? stages(second).map((s) => [s.key, s]) : []);
  const rows = woven([...own.values()], [...others.values()]);
  const visits = (e: Edition) => Math.max(e.opened + e.returned, 1);
  const most = Math.max(
    ...[...own.values()].map((r) => r.n / visits(first)),
    ...[...others.values()].map((r) => r.n / visits(second ?? first)),
    1,
  );
  return (
    <table className="stops">
      <thead>
        <tr>
          <th scope="col">{t("How far")}</th>
          <th scope="col">{t("How many came there")}</th>
          <th scope="col">{t("Seconds at it")}</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => {
          const here = own.get(r.key);
          const other = others.get(r.key);
          return (
            <tr key={r.key} className={r.head ? "stops-stage" : undefined}>
              <th scope="row">
                {r.name}
                {second && !(here && other) && (
                  <div className="small quiet">
                    {t("only in edition {{n}}", { n: (here ? first : second).number })}
                  </div>
                )}
              </th>
              <td>
                {here && <Bar n={here.n} of={visits(first)} most={most} />}
                {second && other && <Bar n={other.n} of={visits(second)} most={most} second />}
              </td>
              <td>
                {here?.question ? (
                  <Seconds q={here.question} other={other?.question} />
                ) : (
                  other?.question && <Seconds q={other.question} />
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

// woven puts the stages of another edition that one does not have behind those that they
// stand behind there.
function woven(own: Stage[], others: Stage[]): Stage[] {
  const rows = [...own];
  others.forEach((s, i) => {
    if (rows.some((r) => r.key === s.key)) return;
    const before = rows.findIndex((r) => r.key === others[i - 1]?.key);
    rows.splice(before + 1, 0, s);
  });
  return rows;
}

type BarProps = { n: number; of: number; most: number; second?: boolean };

// Bar is how many of those who opened the page came to a stage.
function Bar({ n, of, most, second }: BarProps) {
  const part = n / of;
  return (
    <div className={second ? "stops-bar second" : "stops-bar"}>
      <svg viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
        <rect width={(100 * part) / most} height="10" />
      </svg>
      <span className="num small">
        {n} <span className="quiet">{Math.round(100 * part)} %</span>
      </span>
    </div>
  );
}

type SecondsProps = { q: Schemas["StopsQuestion"]; other?: Schemas["StopsQuestion"] };

// Seconds is how long the middle one was at a question, against the estimate of the check.
function Seconds({ q, other }: SecondsProps) {
  const { t } = useTranslation();
  if (q.median === undefined) return <span className="quiet small">{t("nobody was at it")}</span>;
  const slow = q.median > 2 * q.estimate;
  return (
    <span className="num small">
      <span className={slow ? "mark attention" : undefined}>{t("{{n}} s", { n: Math.round(q.median) })}</span>{" "}
      <span className="quiet">{t("estimated {{n}} s", { n: q.estimate })}</span>
      {other?.median !== undefined && (
        <span className="quiet"> · {t("there {{n}} s", { n: Math.round(other.median) })}</span>
      )}
    </span>
  );
}
