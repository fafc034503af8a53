import { Button } from "antd";
import { useContext, useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import type { DaysSource } from "../../shared/days/source";
import { day } from "../../shared/format";
import { home } from "../../shared/home";
import { Meetings } from "../../shared/questions/booking/Meetings";
import { shown } from "../../shared/questions/fields";
import { Proofs } from "../../shared/questions/Proofs";
import type { Question } from "../../shared/questions/types";
import { AskChange, Wish } from "./AskChange";
import { AboutContext } from "./about";
import { BriefField } from "./BriefField";
import { Move } from "./Move";
import { Saved } from "./ToAnswer";
import type { Brief } from "./useBrief";

type Props = {
  order: Schemas["OrderPage"];
  line: Schemas["OrderLine"];
  link: string;
  brief: Brief;
  hide: string[];
};

// Answered lists what was answered, each to be changed where it stands: a change is
// saved while it is typed, and can be taken back.
export function Answered({ order, line, link, brief, hide }: Props) {
  const { t } = useTranslation();
  const [editing, setEditing] = useState<string>();
  const asked = new Map(line.asked.map((a) => [a.key, a]));
  const days = useMemo<DaysSource>(
    () => ({
      key: ["line-days", line.id],
      ask: (body) =>
        take(
          api.POST("/api/shop/orders/{link}/lines/{line}/days", {
            params: { path: { link, line: line.id } },
            body: { ...body, answers: {}, quantity: 1 },
          }),
        ),
    }),
    [link, line.id],
  );
  const questions = line.page.questions.filter(
    (q) => !shown.has(q.kind) && asked.get(q.key)?.answered && !hide.includes(q.key),
  );
  const stop = () => setEditing(undefined);
  if (questions.length === 0) return null;
  return (
    <section>
      <h3>{t("What you answered")}</h3>
      <dl className="answers">
        {questions.map((q) =>
          editing !== q.key ? (
            <Row
              key={q.key}
              q={q}
              order={order}
              line={line}
              link={link}
              brief={brief}
              words={asked.get(q.key)?.words}
              text={asked.get(q.key)?.text}
              edit={() => setEditing(q.key)}
            />
          ) : lockedAt(line, q) ? (
            <AskChange key={q.key} q={q} line={line} link={link} close={stop} />
          ) : q.kind === "booking" ? (
            <Move key={q.key} q={q} line={line} link={link} days={days} close={stop} />
          ) : (
            <Edit key={q.key} q={q} line={line} link={link} brief={brief} close={stop} />
          ),
        )}
      </dl>
      {line.brief === "closed" ? (
        <p className="small quiet">
          {t("Answers are closed now. You can ask for a change, and we say whether it can still be made.")}
        </p>
      ) : (
        line.closes && (
          <p className="small quiet">
            {t("You can change your answers until {{day}}.", { day: day(line.closes, order.today) })}
          </p>
        )
      )}
    </section>
  );
}

// lockedAt says whether an answer can no longer be changed here.
const lockedAt = (line: Schemas["OrderLine"], q: Question) =>
  line.brief === "closed" || line.locked.includes(q.key);

type RowProps = {
  q: Question;
  order: Schemas["OrderPage"];
  line: Schemas["OrderLine"];
  link: string;
  brief: Brief;
  words?: string;
  text?: string;
  edit: () => void;
};

function Row({ q, order, line, link, brief, words, text, edit }: RowProps) {
  const { t } = useTranslation();
  const ask = useContext(AboutContext);
  const locked = lockedAt(line, q);
  const wish = line.amendments?.find((a) => a.key === q.key);
  const placed = order.money.state === "placed" && line.cancelled === undefined;
  return (
    <div data-question={q.key}>
      <dt>{q.wording}</dt>
      <dd>
        <span className="grow answer-words">
          {words}
          {q.kind === "booking" && (
            <Meetings value={line.answers[q.key]} zone={line.page.booking?.zone ?? "UTC"} />
          )}
          {q.kind === "booking" && line.with && <span className="quiet"> · {line.with.join(", ")}</span>}
          {q.kind === "booking" && (
            <a
              className="booking-file small"
              href={`${home}/api/shop/orders/${link}/lines/${line.id}/booking.ics`}
              download="booking.ics"
            >
              {t("For your calendar")}
            </a>
          )}
          <Proofs q={q} value={line.answers[q.key]} text={text} />
          {brief.half(q.key) && <span className="mark attention">{t("your change does not count yet")}</span>}
          {wish && <Wish a={wish} link={link} zone={order.zone} today={order.today} />}
        </span>
        <span className="row-acts">
          {!locked && (
            <button type="button" className="linkish small" onClick={edit}>
              {q.kind === "booking" ? t("Move it") : t("Change")}
              <span className="sr"> {q.wording}</span>
            </button>
          )}
          {locked && placed && q.kind !== "booking" && (
            <button type="button" className="linkish small" onClick={edit}>
              {t("Ask for a change")}
              <span className="sr"> {q.wording}</span>
            </button>
          )}
          <button
            type="button"
            className="linkish small"
            onClick={() => ask({ line: line.id, key: q.key, wording: q.wording })}
          >
            {t("Write")}
            <span className="sr"> {t("about “{{what}}”", { what: q.wording })}</span>
          </button>
        </span>
      </dd>
    </div>
  );
}

type EditProps = { q: Question; line: Schemas["OrderLine"]; link: string; brief: Brief; close: () => void };

// Edit changes an answer where it stands.
function Edit({ q, line, link, brief, close }: EditProps) {
  const { t } = useTranslation();
  const [before] = useState(line.answers[q.key] ?? null);
  const changed = JSON.stringify(brief.value(q.key) ?? null) !== JSON.stringify(before);
  return (
    <div className="answer-edit">
      <BriefField q={q} line={line} link={link} brief={brief} prefix={`c${line.id}`} />
      <div className="row">
        <Button type="primary" onClick={close}>
          {t("Done")}
        </Button>
        <Button
          disabled={!changed}
          onClick={() => {
            brief.change(q.key, before);
            close();
          }}
        >
          {t("Leave it as it was")}
        </Button>
        <Saved state={brief.state} />
      </div>
    </div>
  );
}
