import { useTranslation } from "react-i18next";
import type { Schemas } from "../api/client";

// Foreseen says by when the work will be done, if it is ordered now.
export function Foreseen({ promise, of }: { promise?: Schemas["Foreseen"]; of?: string }) {
  const { t } = useTranslation();
  if (!promise) return null;
  return (
    <div className="foreseen" role="status">
      {of && <span className="quiet">{of}: </span>}
      {t("Ready by")} <strong>{promise.words}</strong>
      {promise.rest && <div className="small quiet">{t("if you answer the rest today")}</div>}
    </div>
  );
}

type Question = Schemas["ProductPage"]["questions"][number];

// withDays writes the day that each choice buys beside it, at the question that puts
// the work first.
export function withDays(
  q: Question,
  evaluation: Schemas["Evaluation"] | undefined,
  say: (day: string) => string,
): Question {
  const days = evaluation?.rushes;
  if (!days || evaluation.rush_of !== q.key) return q;
  const hint = (own: string, day?: string) => [own, day && say(day)].filter(Boolean).join(" · ");
  return {
    ...q,
    hint: q.kind === "yes_no" ? hint(q.hint, days.yes) : q.hint,
    choice_hints: Object.fromEntries(
      [...new Set([...Object.keys(q.choice_hints), ...Object.keys(days)])].map((code) => [
        code,
        hint(q.choice_hints[code] ?? "", days[code]),
      ]),
    ),
  };
}
