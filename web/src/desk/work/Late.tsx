import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day } from "../../shared/format";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import type { useDecide } from "./useDecide";

// looked is for how many late orders help is looked for without being asked: a schedule is
// made anew for each way that is tried.
const looked = 3;

type Props = { late: Schemas["LateOrder"][]; today: string; decide?: ReturnType<typeof useDecide> };

// Late tells which orders will be done later than promised, and what would help.
export function Late({ late, today, decide }: Props) {
  const { t } = useTranslation();
  if (late.length === 0) return null;
  return (
    <section className="notice bad late" aria-label={t("What will be late")}>
      {late.map((l, i) => (
        <div key={l.line} className="late-row">
          <div>
            <strong>▲ {l.promised < today ? t("Late:") : t("Will be late:")}</strong>{" "}
            <Link to={`/orders/${l.line}`}>{l.number}</Link> {l.product}, {l.customer}.{" "}
            {t("Promised {{promised}}, done {{foreseen}} as it stands.", {
              promised: day(l.promised, today),
              foreseen: day(l.foreseen, today),
            })}
          </div>
          {decide && <Help l={l} decide={decide} looks={i < looked} />}
        </div>
      ))}
    </section>
  );
}

type HelpProps = { l: Schemas["LateOrder"]; decide: ReturnType<typeof useDecide>; looks: boolean };

// Help tells what would keep the promise of an order that will be late, and does it.
function Help({ l, decide, looks }: HelpProps) {
  const { t } = useTranslation();
  const [asked, setAsked] = useState(looks);
  const help = useQuery({
    queryKey: ["load", "help", l.line],
    queryFn: () => take(api.GET("/api/desk/load/{line}/help", { params: { path: { line: l.line } } })),
    enabled: asked,
  });
  const words = (h: Schemas["Help"]) => {
    const what = h.items[0]?.title;
    if (h.assigned !== undefined) return t("Give “{{what}}” to {{who}}", { what, who: h.name });
    if ((h.priority ?? 0) > 0) return t("Put {{number}} first", { number: l.number });
    return h.number === undefined
      ? t("Put “{{what}}” last", { what })
      : t("Put “{{what}}” of {{number}} last", { what, number: h.number });
  };
  if (lost(help)) return <Trouble error={help.error} again={() => help.refetch()} />;
  return (
    <div className="row">
      {!help.data && (
        <Button size="small" loading={asked} onClick={() => setAsked(true)}>
          {t("What would help?")}
          <span className="sr"> {l.number}</span>
        </Button>
      )}
      {help.data?.map((h) => (
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
          {words(h)}
        </Button>
      ))}
      {help.data?.length === 0 && (
        <span className="small">
          {t("No single move keeps it. Give it to somebody with more hours, or promise another day.")}
        </span>
      )}
    </div>
  );
}
