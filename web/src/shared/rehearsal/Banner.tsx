import { Button, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { home, rehearsing } from "../home";
import { lost } from "../lost";
import { Trouble } from "../Trouble";
import { useDay, useRehearsal } from "./useRehearsal";
import "./rehearsal.css";

// Banner marks every page of a rehearsal: what is rehearsed, what day it is there, and
// where its other sides are.
export function Banner() {
  if (!rehearsing) return null;
  return <Strip />;
}

function Strip() {
  const { t } = useTranslation();
  const rehearsal = useRehearsal();
  const day = useDay();
  const r = rehearsal.data;
  if (lost(rehearsal)) {
    return (
      <aside className="rehearsal" aria-label={t("Rehearsal")}>
        <Trouble error={rehearsal.error} />
        <a href="/desk/products/rehearsals">{t("All rehearsals")}</a>
      </aside>
    );
  }
  if (!r) return <aside className="rehearsal" aria-label={t("Rehearsal")} />;
  return (
    <aside className="rehearsal" aria-label={t("Rehearsal")}>
      <div className="rehearsal-row">
        <span className="rehearsal-what">
          <strong>{t("Rehearsal")}</strong> {r.title},{" "}
          {r.edition ? t("edition {{n}}", { n: r.edition }) : t("draft")}
          <span className="quiet small"> {t("Nothing here counts, costs or reaches anybody.")}</span>
        </span>
        <Day key={r.day} day={r.day} busy={day.busy} set={day.send} />
        <nav className="rehearsal-sides" aria-label={t("Rehearsal")}>
          <a href={`${home}/p/${r.slug}`}>{t("Shop")}</a>
          <a href={`${home}/desk`}>{t("Desk")}</a>
          <a href={`${home}/mails`}>
            {t("Mails")} {r.mails > 0 && <span className="count num">{r.mails}</span>}
          </a>
          <a href={`/desk/products/${r.product}`}>{t("Back to the bench")}</a>
        </nav>
      </div>
      <Trouble error={day.problem} />
    </aside>
  );
}

type DayProps = { day: string; busy: boolean; set: (day: string) => void };

// Day is what day it is in the rehearsal, and the way to another one.
function Day({ day, busy, set }: DayProps) {
  const { t } = useTranslation();
  const [typed, setTyped] = useState(day);
  const next = new Date(`${day}T12:00:00Z`);
  next.setUTCDate(next.getUTCDate() + 1);
  return (
    <form
      className="rehearsal-day"
      onSubmit={(e) => {
        e.preventDefault();
        if (typed && typed !== day) set(typed);
      }}
    >
      <label htmlFor="rehearsal-day">{t("Today is")}</label>
      <Input
        id="rehearsal-day"
        type="date"
        size="small"
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={() => typed && typed !== day && set(typed)}
      />
      <Button size="small" loading={busy} onClick={() => set(next.toISOString().slice(0, 10))}>
        {t("Next day")}
      </Button>
    </form>
  );
}
