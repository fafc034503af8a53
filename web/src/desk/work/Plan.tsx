import {
  DndContext,
  DragOverlay,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  rectIntersection,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { useQuery } from "@tanstack/react-query";
import { Button, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";
import { ByDay } from "./ByDay";
import { ByPerson } from "./ByPerson";
import { DecideDialog } from "./DecideDialog";
import { Late } from "./Late";
import { LoadBoard } from "./LoadBoard";
import { type Decision, type Item, useDecide, workLists } from "./useDecide";
import type { Way } from "./Work";

// Plan shows the open work as it is placed into the hours of people. Items are given to
// somebody else, or put to another day, by dragging them onto the board or by their
// button.
export function Plan({ by, load }: { by: Way; load?: Schemas["WorkLoad"] }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const [most, setMost] = useState(200);
  const [moving, setMoving] = useState<{ item: Item; to?: Decision }>();
  const [held, setHeld] = useState<Item>();
  const decide = useDecide();
  const person = by === "mine" ? session.person : undefined;
  const work = useQuery({
    queryKey: ["work", most, person],
    queryFn: () => take(api.GET("/api/desk/work", { params: { query: { most, person } } })),
    placeholderData: (old) => old,
    enabled: by !== "mine" || person !== undefined,
  });
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor),
  );
  if (lost(work)) return <Trouble error={work.error} again={() => work.refetch()} />;
  if (by === "mine" && person === undefined) return <WhoAmI people={load?.people ?? []} />;
  if (!work.data) return null;
  const { late, days, waiting, more } = work.data;
  const empty = late.length + days.length + waiting.length === 0;
  const move = (item: Item) => setMoving({ item });
  return (
    <DndContext
      sensors={sensors}
      // where the pointer is; without one, where the item is
      collisionDetection={(at) => (at.pointerCoordinates ? pointerWithin(at) : rectIntersection(at))}
      onDragStart={({ active }) => setHeld(active.data.current?.item as Item)}
      onDragCancel={() => setHeld(undefined)}
      onDragEnd={({ active, over }) => {
        setHeld(undefined);
        if (!over) return;
        const [who = "0", day = ""] = String(over.id).split(" ");
        setMoving({
          item: active.data.current?.item as Item,
          to: { assigned: Number(who), own_due: day, own_from: day },
        });
      }}
    >
      {load && <Late late={load.late} today={today} decide={decide} />}
      {load && load.nobody.length > 0 && (
        <div className="notice attention">
          {t("Nobody can do this: {{what}}", {
            what: load.nobody.map((i) => `${i.title} (${i.planned_for ?? ""})`).join(", "),
          })}
        </div>
      )}
      {decide.last.length > 0 && (
        <div className="notice good row" role="status">
          <span className="grow">
            {t("“{{what}}” is where you put it.", { what: decide.last.map((i) => i.title).join("”, “") })}
          </span>
          <Button loading={decide.busy} onClick={() => decide.undo()}>
            {t("Undo")}
          </Button>
        </div>
      )}
      <Trouble error={decide.problem} />
      {load && <LoadBoard load={load} today={today} />}
      {empty ? (
        <div className="empty">{t("There is no open work. New orders bring it.")}</div>
      ) : by === "person" ? (
        <ByPerson work={work.data} load={load} move={move} />
      ) : (
        <ByDay work={work.data} load={load} move={move} />
      )}
      {more > 0 && (
        <p className="row">
          <span className="quiet">{t("{{count}} more items are open.", { count: more })}</span>
          {most < 1000 && (
            <Button type="link" loading={work.isFetching} onClick={() => setMost(1000)}>
              {t("Show more")}
            </Button>
          )}
        </p>
      )}
      <DragOverlay dropAnimation={null}>{held && <div className="work-held">{held.title}</div>}</DragOverlay>
      {moving && (
        <DecideDialog
          key={moving.item.id}
          item={moving.item}
          to={moving.to}
          people={load?.people ?? []}
          today={today}
          decide={decide}
          close={() => setMoving(undefined)}
        />
      )}
    </DndContext>
  );
}

// WhoAmI asks which of the people who do the work is signed in.
function WhoAmI({ people }: { people: Schemas["WorkPerson"][] }) {
  const { t } = useTranslation();
  const put = useChange({
    send: (person: number) => take(api.PUT("/api/desk/me", { body: { person } })),
    refreshes: ["session", ...workLists],
  });
  return (
    <div className="empty">
      <p>{t("Say who you are among the people who do the work, and your work is shown here.")}</p>
      <Select
        aria-label={t("Who I am")}
        className="who-am-i"
        placeholder={t("I am …")}
        loading={put.busy}
        onChange={(id: number) => put.send(id)}
        options={people.map((p) => ({ value: p.id, label: p.name }))}
      />
      <Trouble error={put.problem} />
    </div>
  );
}
