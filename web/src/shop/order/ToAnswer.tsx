import { useState } from "react";
import { useTranslation } from "react-i18next";
import { shown } from "../../shared/questions/fields";
import { QuestionList } from "../../shared/questions/QuestionList";
import { Trouble } from "../../shared/Trouble";
import { BriefField } from "./BriefField";
import type { Brief, BriefLine } from "./useBrief";

// useStay gives the questions that were open at some time while the page is looked at:
// one that is answered stays where it is, under the finger that answers it.
export function useStay(line: BriefLine, brief: Brief) {
  const [stay, setStay] = useState<string[]>([]);
  const [waited, setWaited] = useState(false);
  const fresh = line.brief === "closed" ? [] : line.open.filter((k) => !stay.includes(k));
  if (fresh.length > 0) setStay([...stay, ...fresh]);
  if (!waited && line.missing.length > 0) setWaited(true);
  const keys = [...stay, ...fresh].filter(
    (k) => line.asked.some((a) => a.key === k) && line.brief !== "closed",
  );
  return { keys, waited: waited && brief.state !== "idle" };
}

type Props = {
  line: BriefLine;
  link?: string;
  // who is asked instead of whoever looks, and for which questions
  theirs?: { name: string; asked: (key: string) => boolean };
  brief: Brief;
  stay: ReturnType<typeof useStay>;
};

// ToAnswer asks what is still to answer. Nothing has to be sent: it is saved by itself.
export function ToAnswer({ line, link, theirs, brief, stay }: Props) {
  const { t } = useTranslation();
  const asked = new Map(line.asked.map((a) => [a.key, a]));
  const open = line.page.questions.filter((q) =>
    shown.has(q.kind) ? asked.has(q.key) && q.moment === "briefing" : stay.keys.includes(q.key),
  );
  if (line.brief === "closed" || !open.some((q) => !shown.has(q.kind))) return null;
  const unknown = line.missing.filter((k) => brief.unknown(k)).length;
  return (
    <section className="to-answer" aria-label={t("Still to answer")}>
      <div className="row">
        <h3 className="grow">
          {line.missing.length > 0 ? t("Still to answer") : t("If you like, tell us more")}
        </h3>
        <Saved state={brief.state} />
      </div>
      {line.missing.length > 0 && (
        <p className="small quiet">
          {t("{{count}} answers are missing. What you write is saved by itself.", {
            count: line.missing.length,
          })}
          {unknown > 0 && ` ${t("{{count}} you do not know yet.", { count: unknown })}`}
        </p>
      )}
      {line.missing.length === 0 && stay.waited && <Complete line={line} />}
      {theirs && line.missing.some(theirs.asked) && (
        <p className="small quiet">
          {t("{{name}} is asked what is marked with the name, and you can answer it too.", {
            name: theirs.name,
          })}
        </p>
      )}
      <Trouble error={brief.problem} />
      <QuestionList
        questions={open}
        draw={(q) => (
          <div key={q.key}>
            {theirs?.asked(q.key) && (
              <span className="mark plain">{t("{{name}} is asked", { name: theirs.name })}</span>
            )}
            <BriefField q={q} line={line} link={link} brief={brief} prefix={`l${line.id}`} />
          </div>
        )}
      />
    </section>
  );
}

// Saved says whether what was typed is at the server.
export function Saved({ state }: { state: Brief["state"] }) {
  const { t } = useTranslation();
  const words = {
    idle: "",
    saving: t("saving …"),
    saved: `✓ ${t("saved")}`,
    waiting: t("No connection. It is kept here and saved as soon as there is one."),
  };
  return (
    <span className={state === "waiting" ? "small mark attention" : "small quiet"} role="status">
      {words[state]}
    </span>
  );
}

// Complete is the moment in which nothing is missing any more.
function Complete({ line }: { line: BriefLine }) {
  const { t } = useTranslation();
  return (
    <div className="notice good complete" role="status">
      <strong>{t("Complete, thank you.")}</strong>
      <div className="answer-words">
        {line.thanks ?? t("We have all we need. You can still change it here.")}
      </div>
      {line.next && (
        <a href={line.next} rel="noreferrer">
          {t("Go on")}
        </a>
      )}
    </div>
  );
}
