import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, take } from "../../shared/api/client";
import { day } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";
import type { Booking } from "./times";

// Card says who comes for what, with the answers that belong to it, and what can be
// done with it.
export function Card({ b, move }: { b: Booking; move: () => void }) {
  const { t } = useTranslation();
  const { today } = useHere();
  const mark = useChange({
    send: (action: "no_show" | "showed") =>
      take(
        api.POST("/api/desk/dockets/{line}/{action}", {
          params: { path: { line: b.line, action }, query: { meeting: b.meeting } },
        }),
      ),
    refreshes: ["calendar", "today", "docket"],
  });
  const begun = new Date(b.start).getTime() <= Date.now();
  return (
    <div className="calendar-card">
      <strong>{b.customer}</strong>
      <div>
        {b.product}
        {b.meeting !== undefined && (
          <span className="quiet">
            {" · "}
            {t("meeting {{number}} of {{of}}", { number: b.meeting, of: b.meetings })}
          </span>
        )}
      </div>
      <div className="num">
        {b.stay ? (
          <>
            {day(b.day, today)} – {day(b.last, today)}
          </>
        ) : (
          <>
            {day(b.day, today)} {b.time}–{b.ends}
          </>
        )}
        {" · "}
        {t("{{count}} people", { count: b.people })}
      </div>
      {b.with.length > 0 && <div className="quiet">{b.with.map((r) => r.name).join(", ")}</div>}
      {(b.answers ?? []).map((a) => (
        <div key={a.key} className="small">
          <span className="quiet">{a.wording}</span> {a.words.replaceAll("\n", "; ")}
        </div>
      ))}
      {b.no_show && <div className="mark bad">{t("nobody came")}</div>}
      <Trouble error={mark.problem} />
      <div className="row">
        <Link to={`/orders/${b.line}`}>{t("Order {{number}}", { number: b.number })}</Link>
        <Button size="small" onClick={move}>
          {t("Move …")}
        </Button>
        {(begun || b.no_show) && (
          <Button
            size="small"
            loading={mark.busy}
            onClick={() => mark.send(b.no_show ? "showed" : "no_show")}
          >
            {b.no_show ? t("They did come") : t("Nobody came")}
          </Button>
        )}
      </div>
    </div>
  );
}
