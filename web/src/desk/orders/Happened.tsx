import { Segmented } from "antd";
import { type ReactNode, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { day, local, plain } from "../../shared/format";
import { useHere } from "../here";
import { useEntryWords } from "./Ledger";

type Docket = Schemas["Docket"];
type Kind = "answers" | "work" | "money" | "messages";
type Event = { at: string; kind?: Kind; by?: string; said: ReactNode };

const mostShown = 12; // until somebody wants all of it

// Happened is all that happened with an order line, of every kind, the newest first.
export function Happened({ d }: { d: Docket }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const [kind, setKind] = useState<Kind | "all">("all");
  const [whole, setWhole] = useState(false);
  const all = useEvents(d).filter((e) => kind === "all" || e.kind === kind);
  const shown = whole ? all : all.slice(0, mostShown);
  return (
    <section id="docket-happened" aria-labelledby="docket-happened-head">
      <div className="row">
        <h3 id="docket-happened-head" className="grow">
          {t("What happened")}
        </h3>
        <Segmented<Kind | "all">
          size="small"
          aria-label={t("Which of it")}
          value={kind}
          onChange={setKind}
          options={[
            { value: "all", label: t("all of it") },
            { value: "answers", label: t("answers") },
            { value: "work", label: t("work") },
            { value: "money", label: t("money") },
            { value: "messages", label: t("messages") },
          ]}
        />
      </div>
      {all.length === 0 && <div className="empty">{t("Nothing of this kind yet.")}</div>}
      <ol className="happened">
        {shown.map((e, i) => {
          const at = local(e.at, session.zone);
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: what happened stays where it is
            <li key={i}>
              <span className="quiet small num">
                {day(at.day, today)} {at.time}
                {e.by && `, ${e.by}`}
              </span>
              <div>{e.said}</div>
            </li>
          );
        })}
      </ol>
      {all.length > shown.length && (
        <button type="button" className="linkish small" onClick={() => setWhole(true)}>
          {t("Show all of it")}
        </button>
      )}
    </section>
  );
}

function useEvents(d: Docket): Event[] {
  const { t } = useTranslation();
  const entry = useEntryWords();
  const nothing = <span className="quiet">{t("nothing")}</span>;
  const change = (wording: string, old: string, fresh: string) => (
    <>
      {wording}: {old ? <del>{old}</del> : nothing} → {fresh || nothing}
    </>
  );
  const events: Event[] = [{ at: d.placed, by: d.customer, said: t("ordered") }];
  for (const h of d.history)
    events.push({ at: h.at, kind: "answers", by: h.by, said: change(h.wording, h.old, h.new) });
  for (const a of d.amendments ?? []) {
    events.push({
      at: a.at,
      kind: "answers",
      by: d.customer,
      said: (
        <>
          {t("asks for a change:")} {change(a.wording, a.old, a.new)}
        </>
      ),
    });
    if (a.answered && a.state !== "withdrawn")
      events.push({
        at: a.answered,
        kind: "answers",
        by: a.by,
        said: a.state === "taken" ? t("took the change") : t("refused the change"),
      });
  }
  for (const x of d.things ?? []) {
    events.push({
      at: x.asked,
      kind: "answers",
      by: x.by,
      said: t("asked one more thing: {{what}}", { what: x.question.wording }),
    });
    if (x.answered)
      events.push({
        at: x.answered,
        kind: "answers",
        by: d.customer,
        said: change(x.question.wording, x.was ?? "", x.words ?? ""),
      });
  }
  for (const w of d.work)
    if (w.done) events.push({ at: w.done, kind: "work", said: t("{{what}} is done", { what: w.title }) });
  for (const h of d.handovers ?? []) {
    events.push({
      at: h.made,
      kind: "work",
      by: h.by,
      said: h.whole ? t("handed all of it over") : t("handed a part of it over"),
    });
    if (h.opened)
      events.push({ at: h.opened, kind: "work", by: d.customer, said: t("saw what was handed over") });
    for (const r of h.requests)
      events.push({ at: r.at, kind: "work", by: d.customer, said: t("asked for it to be changed") });
    if (h.answered && h.state === "accepted")
      events.push({ at: h.answered, kind: "work", by: h.answered_by, said: t("accepted it") });
  }
  for (const r of d.replans ?? [])
    events.push({ at: r.at, kind: "work", said: r.said.map((s) => <div key={s}>{s}</div>) });
  for (const e of d.money.ledger)
    events.push({
      at: e.at,
      kind: "money",
      by: e.by,
      said: (
        <>
          <span className="num">{plain(e.amount, d.currency)}</span> {entry.kind(e)}
          <span className="quiet"> {[entry.why(e), e.note].filter(Boolean).join(" · ")}</span>
        </>
      ),
    });
  for (const m of d.talk ?? [])
    events.push({
      at: m.at,
      kind: "messages",
      by: m.author,
      said: m.text
        ? t("wrote: {{words}}", { words: short(m.text) })
        : t("sent {{count}} files", { count: m.files?.length ?? 0 }),
    });
  if (d.reminded)
    events.push({ at: d.reminded, kind: "messages", said: t("a mail reminded of what is missing") });
  // Of what happened at the same instant, what is told later here came later.
  return events.reverse().sort((a, b) => (a.at < b.at ? 1 : a.at > b.at ? -1 : 0));
}

// short cuts a text to what one line holds.
const short = (text: string) => (text.length > 140 ? `${text.slice(0, 140)} …` : text);
