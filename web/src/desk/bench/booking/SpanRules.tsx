import i18next from "i18next";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../../shared/api/client";
import { weekdays } from "../../../shared/format";
import { Labelled } from "../../../shared/Labelled";
import { WholeBox } from "../../../shared/questions/boxes";

type Span = Schemas["StaySpan"];
type Props = { id: string; span: Span; nights: boolean; set: (span: Span) => void };

// SpanRules edits how long stays are, and on which weekdays they begin and end.
export function SpanRules({ id, span, nights, set }: Props) {
  const { t } = useTranslation();
  const unit = nights ? t("nights") : t("days");
  const days = (key: "begin" | "end", wording: string) => (
    <fieldset className="weekday-picks">
      <legend>{wording}</legend>
      {weekdays(i18next.language).map((w) => {
        const on = span[key]?.includes(w.value) ?? false;
        const next = on ? span[key]?.filter((d) => d !== w.value) : [...(span[key] ?? []), w.value];
        return (
          <button
            key={w.value}
            type="button"
            className="choice-button small"
            aria-pressed={on}
            onClick={() => set({ ...span, [key]: next && next.length > 0 ? next : undefined })}
          >
            {w.label}
          </button>
        );
      })}
      {!span[key] && <span className="quiet small">{t("any day")}</span>}
    </fieldset>
  );
  return (
    <>
      <div className="pair three">
        <Labelled id={`${id}-least`} wording={t("At least")}>
          <WholeBox
            id={`${id}-least`}
            suffix={unit}
            value={span.least}
            onChange={(least) => set({ ...span, least })}
          />
        </Labelled>
        <Labelled id={`${id}-most`} wording={t("At most")}>
          <WholeBox
            id={`${id}-most`}
            suffix={unit}
            value={span.most}
            onChange={(most) => set({ ...span, most })}
          />
        </Labelled>
      </div>
      {days("begin", t("Begins on"))}
      {days("end", t("Ends on"))}
      <details className="small">
        <summary>{t("Another least length by the day on which it begins")}</summary>
        <div className="row least-on">
          {weekdays(i18next.language).map((w) => (
            <label key={w.value} htmlFor={`${id}-on-${w.value}`}>
              {w.label}{" "}
              <WholeBox
                id={`${id}-on-${w.value}`}
                value={span.least_on?.[w.value] || undefined}
                onChange={(n) => {
                  const least_on = Array.from({ length: 7 }, (_, d) => span.least_on?.[d] ?? 0).with(
                    w.value,
                    n ?? 0,
                  );
                  set({ ...span, least_on: least_on.some((x) => x > 0) ? least_on : undefined });
                }}
              />
            </label>
          ))}
        </div>
      </details>
    </>
  );
}
