import { Button, Select } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { plain } from "../../shared/format";
import { kinds } from "../../shared/questions/editors";
import {
  addQuestion,
  type Charge,
  type Draft,
  keyOf,
  type Moment,
  moments,
  moveQuestion,
  ordered,
  type Question,
  type Selected,
  type Step,
} from "./draft";

type Props = {
  draft: Draft;
  change: (draft: Draft) => void;
  selected: Selected;
  select: (s: Selected) => void;
  findings: Schemas["Finding"][];
};

// Path shows the four moments as stations on a line, each with its questions,
// and after them the work plan.
export function Path({ draft, change, selected, select, findings }: Props) {
  const { t } = useTranslation();
  const names: Record<Moment, string> = {
    choosing: t("Choosing"),
    paying: t("Paying"),
    briefing: t("After paying"),
    desk: t("Only at the desk"),
  };
  const wrong = (part: string, key: string) =>
    findings.some((f) => f.error && f.part === part && f.key === key);
  const on = (part: string, key?: string) =>
    selected.part === part && (!("key" in selected) || selected.key === key);
  const questions = ordered(draft);
  const steps = draft.steps ?? [];
  const add = (moment: Moment, kind: string) => {
    const name = t(kinds[kind]?.name ?? kind);
    const key = keyOf(
      name,
      questions.map((q) => q.key),
    );
    const settings = kinds[kind]?.begin;
    change(
      addQuestion(draft, {
        key,
        kind,
        moment,
        wording: kind === "note" ? "" : name,
        ...(settings ? { settings } : {}),
      }),
    );
    select({ part: "question", key });
  };
  const addStep = () => {
    const key = keyOf(
      t("Step"),
      steps.map((s) => s.key),
    );
    const step: Step = {
      key,
      title: t("New step"),
      minutes: { fixed: 15 },
      start: { on: "payment" },
      due: { rule: "working_days", count: 1 },
    };
    change({ ...draft, steps: [...steps, step] });
    select({ part: "step", key });
  };
  const moveStep = (i: number, by: number) => {
    const s = steps[i];
    if (s && i + by >= 0 && i + by < steps.length)
      change({ ...draft, steps: steps.toSpliced(i, 1).toSpliced(i + by, 0, s) });
  };
  return (
    <nav className="path" aria-label={t("The path")}>
      <button
        type="button"
        className={on("product") ? "path-row on" : "path-row"}
        onClick={() => select({ part: "product" })}
      >
        <span>{t("The product itself")}</span>
        <span className="path-side num">{draft.price > 0 ? plain(draft.price, draft.currency) : ""}</span>
      </button>
      <button
        type="button"
        className={on("booking") ? "path-row on" : "path-row"}
        onClick={() => select({ part: "booking" })}
      >
        <span>{t("When it can be booked")}</span>
        <span className="path-side">
          {draft.booking ? t("{{count}} places", { count: draft.booking.places }) : t("not bookable")}
        </span>
      </button>
      {moments.map((moment) => {
        const here = questions.filter((q) => q.moment === moment);
        return (
          <section key={moment} className="station">
            <h3>{names[moment]}</h3>
            {here.map((q) => (
              <div key={q.key} className={q.when ? "path-line inner" : "path-line"}>
                <button
                  type="button"
                  className={on("question", q.key) ? "path-row on" : "path-row"}
                  aria-current={on("question", q.key) || undefined}
                  onClick={() => select({ part: "question", key: q.key })}
                  onKeyDown={(e) => {
                    if (!e.altKey || (e.key !== "ArrowUp" && e.key !== "ArrowDown")) return;
                    e.preventDefault();
                    change(moveQuestion(draft, q.key, e.key === "ArrowUp" ? -1 : 1));
                  }}
                >
                  <span>
                    {wrong("question", q.key) && <span className="path-wrong">▲ </span>}
                    {q.wording || t("Note")}
                  </span>
                  <span className="path-side num">{price(draft, q) || t(kinds[q.kind]?.name ?? q.kind)}</span>
                </button>
                <Movers
                  what={q.wording || t("Note")}
                  up={() => change(moveQuestion(draft, q.key, -1))}
                  down={() => change(moveQuestion(draft, q.key, 1))}
                />
              </div>
            ))}
            <Select
              className="path-add"
              size="small"
              aria-label={t("Add a question to {{moment}}", { moment: names[moment] })}
              placeholder={t("Add …")}
              value={null}
              onChange={(kind: string | null) => kind && add(moment, kind)}
              options={Object.entries(kinds)
                .filter(([k]) => k !== "booking" || moment === "choosing")
                .map(([value, k]) => ({ value, label: t(k.name) }))}
            />
          </section>
        );
      })}
      <section className="station last">
        <h3>{t("Work plan")}</h3>
        {steps.map((s, i) => (
          <div key={s.key} className={s.when ? "path-line inner" : "path-line"}>
            <button
              type="button"
              className={on("step", s.key) ? "path-row on" : "path-row"}
              aria-current={on("step", s.key) || undefined}
              onClick={() => select({ part: "step", key: s.key })}
            >
              <span>
                {wrong("step", s.key) && <span className="path-wrong">▲ </span>}
                {s.title}
              </span>
              <span className="path-side num">{minutes(s)}</span>
            </button>
            <Movers what={s.title} up={() => moveStep(i, -1)} down={() => moveStep(i, 1)} />
          </div>
        ))}
        <Button size="small" onClick={addStep}>
          {t("Add a step")}
        </Button>
      </section>
    </nav>
  );
}

function Movers({ what, up, down }: { what: string; up: () => void; down: () => void }) {
  const { t } = useTranslation();
  return (
    <span className="movers">
      <button type="button" aria-label={t("Move {{what}} up", { what })} onClick={up}>
        ↑
      </button>
      <button type="button" aria-label={t("Move {{what}} down", { what })} onClick={down}>
        ↓
      </button>
    </span>
  );
}

// price says in short what a question does to the price, from what is typed.
function price(draft: Draft, q: Question): string {
  const on = (draft.charges ?? []).filter((c) => c.on === q.key);
  const first = on[0];
  if (!first) return "";
  const amounts = on.map((c) => c.rate.amount).filter((a) => a !== undefined);
  if (first.choice && amounts.length > 1) {
    return `${plain(Math.min(...amounts), draft.currency)} – ${plain(Math.max(...amounts), draft.currency)}`;
  }
  return short(first, draft);
}

function short(c: Charge, draft: Draft): string {
  const sign = c.effect === "adds" ? "+" : c.effect === "takes_off" ? "−" : "";
  if (c.rate.percent !== undefined) return `${sign}${c.rate.percent} %`;
  if (c.rate.amount !== undefined)
    return `${sign}${plain(c.rate.amount, draft.currency)}${c.noun ? ` / ${c.noun}` : ""}`;
  return "";
}

function minutes(s: Step): string {
  const m = s.minutes;
  const parts = [m.fixed && `${m.fixed}`, m.unit && `${m.unit}/×`, m.each && `${m.each}/…`].filter(Boolean);
  return `${parts.join(" + ") || "0"} min`;
}
