import { useState } from "react";
import { api, type Schemas, take } from "../../shared/api/client";
import { useChange } from "../../shared/useChange";

export type Item = Schemas["WorkItem"];
export type Decision = Omit<Schemas["ItemDecision"], "version">;
type Decided = Pick<Item, "id" | "title" | "version" | "assigned" | "own_due" | "own_from" | "priority">;

// What shows work, and looks again after a change of it.
export const workLists = ["today", "work", "load", "worksheet", "steps", "docket", "orders"];

// before is the decision that takes another one back.
function before(item: Decided, decision: Decision): Decision {
  const was: Decision = {};
  if (decision.assigned !== undefined) was.assigned = item.assigned ?? 0;
  if (decision.own_due !== undefined) was.own_due = item.own_due ?? "";
  if (decision.own_from !== undefined) was.own_from = item.own_from ?? "";
  if (decision.priority !== undefined) was.priority = item.priority ?? 0;
  return was;
}

// useDecide keeps what somebody decides about items, and can take the last of it back.
export function useDecide() {
  const [last, setLast] = useState<{ item: Item; was: Decision }[]>([]);
  const change = useChange({
    send: async ({ list }: { list: { item: Decided; decision: Decision }[]; back: boolean }) => {
      const done: { item: Item; was: Decision }[] = [];
      for (const { item, decision } of list) {
        const next = await take(
          api.PUT("/api/desk/items/{item}", {
            params: { path: { item: item.id } },
            body: { ...decision, version: item.version ?? 0 },
          }),
        );
        done.push({ item: next, was: before(item, decision) });
      }
      return done;
    },
    refreshes: workLists,
    done: (made, { back }) => setLast(back ? [] : made),
  });
  const send = (list: { item: Decided; decision: Decision }[], back: boolean) => change.send({ list, back });
  return {
    decide: (item: Decided, decision: Decision) => send([{ item, decision }], false),
    decideAll: (items: Decided[], decision: Decision) =>
      send(
        items.map((item) => ({ item, decision })),
        false,
      ),
    undo: () =>
      send(
        last.map(({ item, was }) => ({ item, decision: was })),
        true,
      ),
    last: last.map((l) => l.item),
    // newest gives an item as it was last answered here, until it is shown as new
    newest: (item: Item) =>
      last.find((l) => l.item.id === item.id && (l.item.version ?? 0) > (item.version ?? 0))?.item ?? item,
    busy: change.busy,
    problem: change.problem,
  };
}
