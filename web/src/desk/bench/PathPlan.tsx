import { Button, Select } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { type Draft, keyOf, leaveSheet, linkSheet, type Question, type Selected, type Step } from "./draft";

type SheetsProps = {
  draft: Draft;
  change: (draft: Draft) => void;
  linked: Question[];
  sheets: Schemas["SheetRow"][];
};

// PathSheets links sheets and leaves them.
export function PathSheets({ draft, change, linked, sheets }: SheetsProps) {
  const { t } = useTranslation();
  return (
    <section className="path-sheets">
      <Select
        size="small"
        aria-label={t("Use a sheet")}
        placeholder={t("Use a sheet …")}
        value={null}
        notFoundContent={t("No other sheet is published.")}
        onChange={(id: number | null) => id && change(linkSheet(draft, id))}
        options={sheets
          .filter((s) => s.published && !linked.some((q) => q.sheet === s.id))
          .map((s) => ({ value: s.id, label: s.name }))}
      />
      {[...new Set(linked.map((q) => q.sheet ?? 0))].map((id) => {
        const name = sheets.find((s) => s.id === id)?.name ?? t("sheet");
        return (
          <div key={id} className="row small">
            <Link to={`/sheets/${id}`} className="grow">
              {name}
            </Link>
            <Button
              size="small"
              aria-label={t("Leave the sheet {{name}}", { name })}
              onClick={() => change(leaveSheet(draft, id))}
            >
              ×
            </Button>
          </div>
        );
      })}
    </section>
  );
}

type StepsProps = {
  draft: Draft;
  change: (draft: Draft) => void;
  select: (s: Selected) => void;
  on: (part: string, key?: string) => boolean;
  wrong: (part: string, key: string) => boolean;
};

// PathSteps is the work plan: its steps in their order.
export function PathSteps({ draft, change, select, on, wrong }: StepsProps) {
  const { t } = useTranslation();
  const steps = draft.steps ?? [];
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
  );
}

function minutes(s: Step): string {
  const m = s.minutes;
  const parts = [m.fixed && `${m.fixed}`, m.unit && `${m.unit}/×`, m.each && `${m.each}/…`].filter(Boolean);
  return `${parts.join(" + ") || "0"} min`;
}

export function Movers({ what, up, down }: { what: string; up: () => void; down: () => void }) {
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
