import { useEffect, useRef } from "react";
import type { Question } from "../shared/questions/types";
import { useMine } from "./Mine";
import { usePass } from "./Pass";

// What can be filled in: a question, where it stands, and what stands there.
type Field = { at: string; q: Question; value: unknown };

// useFilled fills what is kept of a person who signed in into the questions that ask for
// it, once each: what they take away again stays away. It gives who that is.
export function useFilled(fields: Field[], set: (at: string, key: string, answer: unknown) => void) {
  const pass = usePass();
  const mine = useMine(Boolean(pass.data?.email));
  const filled = useRef(new Set<string>());
  const newest = useRef(set);
  newest.current = set;
  const kept = mine.data?.answers;
  useEffect(() => {
    if (!kept) return;
    for (const { at, q, value } of fields) {
      const id = `${at} ${q.key}`;
      if (q.scope !== "customer" || filled.current.has(id)) continue;
      const own = kept.find((a) => a.key === q.key && a.kind === q.kind);
      if (!own) continue;
      filled.current.add(id);
      if (value === null || value === undefined) newest.current(at, q.key, own.answer);
    }
  });
  return mine.data;
}
