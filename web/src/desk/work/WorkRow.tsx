import { useDraggable } from "@dnd-kit/core";
import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, span } from "../../shared/format";
import { Asked } from "../../shared/handover/Asked";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { givenFile } from "../handover/address";
import { ItemBeside } from "./ItemBeside";
import { Timer } from "./Timer";
import { type Item, workLists } from "./useDecide";

type Action = "start" | "pause" | "finish" | "aside" | "undo";

// useWorkAction starts or finishes items, or takes that back, and has every
// list that shows work look again.
export function useWorkAction() {
  return useChange({
    send: ({ action, items }: { action: Action; items: number[] }) =>
      take(api.POST("/api/desk/work/{action}", { params: { path: { action } }, body: { items } })),
    refreshes: workLists,
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
      {item.round > 0 && (
        <span className="mark attention">{item.asked ? t("changes asked for") : t("do again")}</span>
      )}
      {item.asked && item.state !== "done" && <Asked request={item.asked} address={givenFile} />}
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
        : w.for === "acceptance"
          ? t("until the customer accepted “{{what}}”", { what: w.what })
          : t("for the rest of the answers"),
  );
  return <span className="mark bad wrap">{t("waits {{words}}", { words: words.join(", ") })}</span>;
}

type RowProps = {
  item: Item;
  today: string;
  // within its own order
  bare?: boolean;
  people?: Schemas["WorkPerson"][];
  // gives it to somebody else, or another day
  move?: (item: Item) => void;
};

// WorkRow shows one work item with what can be done with it.
export function WorkRow({ item, today, bare, people, move }: RowProps) {
  const { t } = useTranslation();
  const act = useWorkAction();
  const run = (action: Action) => act.send({ action, items: [item.id] });
  const done = item.state === "done";
  const drag = useDraggable({ id: item.id, data: { item }, disabled: !move || done });
  return (
    <div className={done ? "work-row done" : "work-row"} data-item={item.id}>
      <span
        ref={drag.setNodeRef}
        className={move && !done ? "work-state held" : "work-state"}
        {...(move && !done ? { ...drag.attributes, ...drag.listeners } : { "aria-hidden": true })}
        {...(move && !done ? { "aria-label": t("Move {{what}}", { what: item.title }) } : {})}
      >
        {done ? (item.aside ? "–" : "●") : item.state === "started" ? "◐" : "○"}
      </span>
      <div className="work-words">
        <div className="row work-head">
          <strong>{item.title}</strong>
          {item.part && !item.title.includes(item.part) && <span>{item.part}</span>}
          {!bare && item.line > 0 && (
            <Link to={`/orders/${item.line}`} className="num">
              {item.number}
            </Link>
          )}
          {!bare && <span className="quiet small">{item.customer}</span>}
          {(item.priority ?? 0) !== 0 && (
            <span className="mark">{(item.priority ?? 0) > 0 ? t("first") : t("last")}</span>
          )}
          {item.repeats && <span className="mark">{t("comes again")}</span>}
        </div>
        {item.instructions && !done && <div className="small work-instructions">{item.instructions}</div>}
        <Marks item={item} />
        {item.unneeded && (
          <div className="small">
            <span className="mark attention">{t("not needed any more")}</span>{" "}
            {t("The order has no use for it now. Finish it, or set it aside.")}
          </div>
        )}
        {!done && <Waits item={item} />}
        <ItemBeside key={item.version} item={item} brief={move !== undefined} />
        <Trouble error={act.problem} />
      </div>
      <div className="work-side">
        <span className="quiet small num">{span(item.minutes)}</span>
        <Timer item={item} />
        {done ? (
          <span className="mark good">{item.aside ? t("set aside") : t("done")}</span>
        ) : (
          <Due item={item} today={today} />
        )}
        {!done && <Doer item={item} people={people} today={today} />}
        <div className="row">
          {(item.state === "ready" || (item.state === "started" && !item.since)) && (
            <Button size="small" loading={act.busy} onClick={() => run("start")}>
              {item.state === "ready" ? t("Start") : t("Go on")}
              <span className="sr"> {item.title}</span>
            </Button>
          )}
          {item.since && (
            <Button size="small" loading={act.busy} onClick={() => run("pause")}>
              {t("Pause")}
              <span className="sr"> {item.title}</span>
            </Button>
          )}
          {item.unneeded && (
            <Button size="small" loading={act.busy} onClick={() => run("aside")}>
              {t("Set aside")}
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
          {move && !done && (
            <Button size="small" type="text" onClick={() => move(item)}>
              {t("Give or move")}
              <span className="sr"> {item.title}</span>
            </Button>
          )}
        </div>
      </div>
    </div>
  );
}

// Doer says who will do an item, and when.
function Doer({ item, people = [], today }: Pick<RowProps, "item" | "people" | "today">) {
  const { t } = useTranslation();
  const name = people.find((p) => p.id === item.person)?.name;
  if (item.nobody) return <span className="mark bad">{t("nobody can do it")}</span>;
  if (!item.begins) return null;
  const when = item.ends && item.ends !== today ? day(item.ends, today) : t("today");
  return (
    <span className={item.slips ? "small over" : "small quiet"}>
      {[name, item.slips && !item.late ? t("done {{when}} only", { when }) : t("done {{when}}", { when })]
        .filter(Boolean)
        .join(", ")}
    </span>
  );
}
