import { Button } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { digits as digitsOf } from "../../shared/currency";
import { plainFine } from "../../shared/format";
import { DecimalBox, FineBox, WholeBox } from "../../shared/questions/boxes";
import { type Draft, figureLinked } from "./draft";

type Figure = Schemas["LinkedFigure"];
type Props = { title: string; figures: Figure[]; draft: Draft; change: (draft: Draft) => void };

// SheetFigures shows figures of a sheet, each with the one that this product has
// instead; empty follows the sheet.
export function SheetFigures({ title, figures, draft, change }: Props) {
  const { t } = useTranslation();
  if (figures.length === 0) return null;
  const digits = digitsOf(draft.currency);
  return (
    <section className="sheet-figures">
      <h3>{title}</h3>
      {figures.map((f) => {
        const here = draft.sheets
          ?.find((u) => u.sheet === f.sheet)
          ?.figures?.find((x) => x.place === f.place);
        const put = (figure: Omit<Schemas["SheetFigure"], "place"> | undefined) =>
          change(figureLinked(draft, f.sheet, f.place, figure));
        const id = `figure-${f.place}`;
        const label = t("{{of}}: {{what}} here", { of: f.of, what: f.what });
        const was =
          f.amount !== undefined
            ? plainFine(f.amount, draft.currency)
            : f.percent !== undefined
              ? `${f.percent} %`
              : t("{{minutes}} min", { minutes: f.minutes });
        return (
          <div key={f.place} className="row sheet-figure">
            <span className="grow">
              {f.of} <span className="quiet small">{f.what}</span>
            </span>
            <span className={here ? "num quiet figure-was" : "num"}>{was}</span>
            <span className="quiet small">{t("here")}</span>
            <span className="charge-box">
              {f.amount !== undefined ? (
                <FineBox
                  id={id}
                  label={label}
                  digits={digits}
                  prefix={draft.currency}
                  value={here?.amount}
                  onChange={(amount) => put(amount === undefined ? undefined : { amount })}
                />
              ) : f.percent !== undefined ? (
                <DecimalBox
                  id={id}
                  label={label}
                  suffix="%"
                  value={here?.percent}
                  onChange={(percent) => put(percent === undefined ? undefined : { percent })}
                />
              ) : (
                <WholeBox
                  id={id}
                  label={label}
                  suffix={t("min")}
                  value={here?.minutes}
                  onChange={(minutes) => put(minutes === undefined ? undefined : { minutes })}
                />
              )}
            </span>
            <Button
              size="small"
              disabled={!here}
              aria-label={t("{{of}}: {{what}} as in the sheet again", { of: f.of, what: f.what })}
              title={t("as in the sheet again")}
              onClick={() => put(undefined)}
            >
              ↺
            </Button>
          </div>
        );
      })}
    </section>
  );
}
