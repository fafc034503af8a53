import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, span } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";

type Action = "start" | "finish" | "undo";

// useWorkAction starts or finishes items, or takes that back, and has every
// list that shows work look again.
export function useWorkAction() {
  return useChange({
    send: ({ action, items }: { action: Action; items: number[] }) =>
      take(api.POST("/api/desk/work/{action}", { params: { path: { action } }, body: { items } })),
    refreshes: ["today", "work", "worksheet", "steps", "docket", "orders"],
  });
}

// Due says when an item is due, and that it is late in a word.
export function Due({ item, today }: { item: Schemas["WorkItem"]; today: string }) {
  const { t } = useTranslation();
  if (!item.due_day) return <span className="quiet small">{t("no day yet")}</span>;
  const when = `${item.due_day === today ? t("today") : day(item.due_day, today)} ${item.due_time}`;
  return item.late ? (
    <span className="mark bad num">{t("late, {{when}}", { when })}</span>
  ) : (
    <span className="num small">{t("due {{when}}", { when })}</span>
  );
}

// Marks tells which answers changed after the work began with them.
export function Marks({ item }: { item: Schemas["WorkItem"] }) {
  const { t } = useTranslation();
  return (
    <>
      {item.round > 0 && <span className="mark attention">{t("do again")}</span>}
      {item.marks.map((m) => (
        <div key={m.wording} className="small">
          <span className="mark attention">{t("changed")}</span> {m.wording}:{" "}
          <del>{m.old || t("nothing")}</del> → <strong>{m.new || t("nothing")}</strong>
        </div>
      ))}
    </>
  );
}

export function Waits({ item }: { item: Pick<Schemas["WorkItem"], "waits"> }) {
  const { t } = useTranslation();
  if (item.waits.length === 0) return null;
  const words = item.waits.map((w) =>
    w.for === "answer"
      ? t("for “{{what}}”", { what: w.what })
      : w.for === "step"
        ? t("until “{{what}}” is done", { what: w.what })
        : t("for the rest of the answers"),
  );
  return <span className="mark bad wrap">{t("waits {{words}}", { words: words.join(", ") })}</span>;
}

// WorkRow shows one work item with what can be done with it.
export function WorkRow({ item, today, bare }: { item: Schemas["WorkItem"]; today: string; bare?: boolean }) {
  const { t } = useTranslation();
  const act = useWorkAction();
  const run = (action: Action) => act.send({ action, items: [item.id] });
  const done = item.state === "done";
  return (
    <div className={done ? "work-row done" : "work-row"} data-item={item.id}>
      <span className="work-state" aria-hidden="true">
        {done ? "●" : item.state === "started" ? "◐" : "○"}
      </span>
      <div className="work-words">
        <div className="row work-head">
          <strong>{item.title}</strong>
          {!bare && (
            <Link to={`/orders/${item.line}`} className="num">
              {item.number}
            </Link>
          )}
          {!bare && <span className="quiet small">{item.customer}</span>}
        </div>
        {item.instructions && !done && <div className="small work-instructions">{item.instructions}</div>}
        <Marks item={item} />
        {!done && <Waits item={item} />}
        <Trouble error={act.problem} />
      </div>
      <div className="work-side">
        <span className="quiet small num">{span(item.minutes)}</span>
        {done ? <span className="mark good">{t("done")}</span> : <Due item={item} today={today} />}
        <div className="row">
          {item.state === "ready" && (
            <Button size="small" loading={act.busy} onClick={() => run("start")}>
              {t("Start")}
              <span className="sr"> {item.title}</span>
            </Button>
          )}
          {(item.state === "ready" || item.state === "started") && (
            <Button size="small" type="primary" loading={act.busy} onClick={() => run("finish")}>
              {t("Done")}
              <span className="sr"> {item.title}</span>
            </Button>
          )}
          {(done || item.state === "started") && (
            <Button size="small" type="text" loading={act.busy} onClick={() => run("undo")}>
              {t("Undo")}
              <span className="sr"> {item.title}</span>
            </Button>
          )}
        </div>
      </div>
    </div>
  );
}
