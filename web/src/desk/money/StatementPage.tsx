import { Button, Progress } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams, useSearchParams } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { day } from "../../shared/format";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";
import { MoneyTabs } from "../Tabs";
import { TransferRows, useOutcomes } from "./TransferRows";
import { useStatement } from "./useReading";

type Outcome = Schemas["TransferOutcome"];

// StatementPage tells row by row what became of a bank statement.
export function StatementPage() {
  const { t } = useTranslation();
  const { today } = useHere();
  const id = Number(useParams().id);
  const [params, setParams] = useSearchParams();
  const outcome = (params.get("outcome") ?? undefined) as Outcome | undefined;
  // Where the pages before this one ended, so that one can go back.
  const [pages, setPages] = useState<number[]>([]);
  const outcomes = useOutcomes();
  const page = useStatement(id, outcome, pages.at(-1));
  const s = page.data?.statement;
  const choose = (o?: Outcome) => {
    setPages([]);
    setParams(o ? { outcome: o } : {});
  };
  return (
    <main className="desk-page">
      <h1>{t("Money")}</h1>
      <MoneyTabs />
      <Trouble error={lost(page)} again={() => page.refetch()} />
      {s && (
        <>
          <p>
            <Link to="/money/transfers">{t("Transfers")}</Link>
          </p>
          <h2>{s.name}</h2>
          <p className="quiet small">
            {s.first === s.last ? day(s.first, today) : `${day(s.first, today)} – ${day(s.last, today)}`} ·{" "}
            {s.format} · {t("{{count}} rows", { count: s.rows })}
          </p>
          {s.done < s.rows && (
            <div role="status" className="reading">
              <Progress
                percent={Math.floor((100 * s.done) / s.rows)}
                aria-label={t("{{done}} of {{rows}} rows looked at", { done: s.done, rows: s.rows })}
              />
              <span className="small quiet">
                {t("{{done}} of {{rows}} rows looked at", { done: s.done, rows: s.rows })} ·{" "}
                {t("You can leave this page; it goes on.")}
              </span>
            </div>
          )}
          <div className="row outcomes">
            <Button type={outcome ? "default" : "primary"} size="small" onClick={() => choose()}>
              {t("all")} <span className="num">{s.rows}</span>
            </Button>
            {s.counts.map((c) => (
              <Button
                key={c.outcome}
                size="small"
                type={outcome === c.outcome ? "primary" : "default"}
                aria-pressed={outcome === c.outcome}
                onClick={() => choose(c.outcome)}
              >
                {outcomes[c.outcome].shape} {outcomes[c.outcome].name} <span className="num">{c.count}</span>
              </Button>
            ))}
          </div>
          {page.data && page.data.rows.length === 0 ? (
            <div className="empty">{t("No row is like that any more.")}</div>
          ) : (
            <TransferRows rows={page.data?.rows ?? []} numbered />
          )}
          {(pages.length > 0 || page.data?.more) && (
            <div className="row">
              <Button disabled={pages.length === 0} onClick={() => setPages(pages.slice(0, -1))}>
                {t("Back")}
              </Button>
              <Button
                disabled={!page.data?.more}
                onClick={() => page.data?.more && setPages([...pages, page.data.more])}
              >
                {t("Further")}
              </Button>
            </div>
          )}
        </>
      )}
    </main>
  );
}
