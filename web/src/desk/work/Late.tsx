import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { day } from "../../shared/format";
import type { useDecide } from "./useDecide";

type Props = { late: Schemas["LateOrder"][]; today: string; decide?: ReturnType<typeof useDecide> };

// Late tells which orders will be done later than promised, and what would help.
export function Late({ late, today, decide }: Props) {
  const { t } = useTranslation();
  if (late.length === 0) return null;
  const words = (h: Schemas["Help"], own: number) => {
    const what = h.items[0]?.title;
    if (h.assigned !== undefined) return t("Give “{{what}}” to {{who}}", { what, who: h.name });
    if ((h.priority ?? 0) > 0) return t("Put {{number}} first", { number: own });
    return h.number === undefined
      ? t("Put “{{what}}” last", { what })
      : t("Put “{{what}}” of {{number}} last", { what, number: h.number });
  };
  return (
    <section className="notice bad late" aria-label={t("What will be late")}>
      {late.map((l) => (
        <div key={l.line} className="late-row">
          <div>
            <strong>▲ {l.promised < today ? t("Late:") : t("Will be late:")}</strong>{" "}
            <Link to={`/orders/${l.line}`}>{l.number}</Link> {l.product}, {l.customer}.{" "}
            {t("Promised {{promised}}, done {{foreseen}} as it stands.", {
              promised: day(l.promised, today),
              foreseen: day(l.foreseen, today),
            })}
          </div>
          {decide && (
            <div className="row">
              {l.help.map((h) => (
                <Button
                  key={`${h.items[0]?.id} ${h.assigned ?? 0} ${h.priority ?? 0}`}
                  size="small"
                  loading={decide.busy}
                  onClick={() =>
                    decide.decideAll(
                      h.items,
                      h.assigned !== undefined ? { assigned: h.assigned } : { priority: h.priority },
                    )
                  }
                >
                  {words(h, l.number)}
                </Button>
              ))}
              {l.help.length === 0 && (
                <span className="small">
                  {t("No single move keeps it. Give it to somebody with more hours, or promise another day.")}
                </span>
              )}
            </div>
          )}
        </div>
      ))}
    </section>
  );
}
