import { useEffect, useRef, useState } from "react";
import { Problem, type Schemas } from "../../shared/api/client";
import { useKept } from "../../shared/useKept";

// What is typed at a question and not at the server yet, with what stood there before;
// or whether it is not known yet.
type Field = { value: unknown; was: unknown; unknown?: boolean };
type Typed = Record<string, Field>;

type State = "idle" | "saving" | "saved" | "waiting";

const pause = 600; // ms without a key, after which what was typed is sent
export const patience = 4000; // ms until it is tried again without a connection

// isFinal says whether the server refused something, so that sending it again is no use.
export const isFinal = (e: unknown): e is Problem =>
  e instanceof Problem && e.status > 0 && e.status < 500 && e.status !== 429;

const same = (a: unknown, b: unknown) => JSON.stringify(a ?? null) === JSON.stringify(b ?? null);

export type Brief = ReturnType<typeof useBrief>;

// A BriefLine is what of an order's line is asked, as buyer and recipient see it.
export type BriefLine = Pick<
  Schemas["OrderLine"],
  | "id"
  | "version"
  | "page"
  | "quantity"
  | "answers"
  | "asked"
  | "halves"
  | "open"
  | "missing"
  | "brief"
  | "thanks"
  | "next"
>;

// Saving is where a brief is saved: it tells of fields that somebody else changed.
export type Saving = {
  kept: string; // under which the browser keeps what is not saved yet
  save: (body: Schemas["BriefSave"]) => Promise<string[]>;
  look: () => void; // again at what is at the server
};

// useBrief saves a brief while it is typed, field by field. What is not at the server yet
// is kept in the browser, through a reload and a lost connection, and sent by itself.
export function useBrief(line: BriefLine, saving: Saving) {
  const [typed, setTyped] = useKept<Typed>(saving.kept, {});
  const [state, setState] = useState<State>("idle");
  const [others, setOthers] = useState<string[]>([]);
  const [problem, setProblem] = useState<unknown>();
  const newest = useRef({ typed, others });
  newest.current = { typed, others };
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const under = useRef(false);
  // Fields that the server refused: they hold up none of the others, and are sent again
  // once they are changed.
  const stuck = useRef(new Set<string>());

  const half = (key: string) => line.halves.find((h) => h.key === key && !h.unknown);
  const standing = (key: string) => {
    const h = half(key);
    return (h ? h.value : line.answers[key]) ?? null;
  };
  const soon = (ms: number) => {
    clearTimeout(timer.current);
    timer.current = setTimeout(() => send(), ms);
  };

  const send = async (more: Partial<Schemas["BriefSave"]> = {}) => {
    const now = Object.fromEntries(
      Object.entries(newest.current.typed).filter(
        ([key]) => !newest.current.others.includes(key) && !stuck.current.has(key),
      ),
    );
    if (under.current) return soon(pause);
    if (Object.keys(now).length === 0 && Object.keys(more).length === 0) return;
    under.current = true;
    setState("saving");
    const part = <T>(of: (field: Field) => T) =>
      Object.fromEntries(
        Object.entries(now)
          .map(([key, field]) => [key, of(field)] as const)
          .filter(([, v]) => v !== undefined),
      );
    const answer = (field: Field, v: unknown) => (field.unknown === undefined ? (v ?? null) : undefined);
    try {
      const changed = await saving.save({
        ...more,
        answers: { ...part((f) => answer(f, f.value)), ...more.answers },
        was: { ...part((f) => answer(f, f.was)), ...more.was },
        unknown: part((f) => f.unknown) as Record<string, boolean>,
      });
      under.current = false;
      setProblem(undefined);
      setOthers((old) => [...new Set([...old, ...changed])]);
      setTyped((old) => {
        const next = { ...old };
        for (const [key, sent] of Object.entries(now)) {
          const field = next[key];
          if (!field || changed.includes(key)) continue;
          if (same(field, sent)) delete next[key];
          else next[key] = { ...field, was: sent.value }; // typed on meanwhile
        }
        return next;
      });
      setState("saved");
    } catch (e) {
      under.current = false;
      if (isFinal(e)) {
        setProblem(e);
        setState("idle");
        for (const { key } of e.errors) stuck.current.add(key.split(".")[0] ?? key);
        saving.look();
        if (Object.keys(now).some((key) => !stuck.current.has(key)) && e.errors.length > 0) soon(0);
        return;
      }
      setState("waiting");
      soon(patience);
    }
  };
  const sends = useRef(send);
  sends.current = send;

  // What was typed before a reload goes now, and what was typed last before the page is left.
  useEffect(() => {
    sends.current();
    const go = () => sends.current();
    const leave = () => document.visibilityState === "hidden" && sends.current();
    window.addEventListener("online", go);
    document.addEventListener("visibilitychange", leave);
    return () => {
      clearTimeout(timer.current);
      window.removeEventListener("online", go);
      document.removeEventListener("visibilitychange", leave);
    };
  }, []);

  const change = (key: string, value: unknown) => {
    setState("saving");
    setProblem(undefined);
    stuck.current.delete(key);
    setTyped((old) => ({ ...old, [key]: { value, was: old[key] ? old[key].was : standing(key) } }));
    soon(pause);
  };
  const setUnknown = (key: string, unknown: boolean) => {
    setState("saving");
    setTyped((old) => ({ ...old, [key]: { value: null, was: standing(key), unknown } }));
    soon(0);
  };
  return {
    state,
    problem,
    value: (key: string) => (key in typed ? typed[key]?.value : standing(key)),
    typing: (key: string) => key in typed && typed[key]?.unknown === undefined,
    half,
    unknown: (key: string) => typed[key]?.unknown ?? line.halves.some((h) => h.key === key && h.unknown),
    setUnknown,
    change,
    // What was typed and is not at the server, such as when the brief closed meanwhile.
    unsent: Object.keys(typed).filter((key) => typed[key]?.unknown === undefined),
    forget: (key: string) =>
      setTyped((old) => {
        const { [key]: _, ...rest } = old;
        return rest;
      }),
    // agree takes what changes the price, at the total that the order comes to then.
    agree: async (key: string, total: number) => {
      while (under.current) await new Promise((done) => setTimeout(done, 50)); // what is on its way
      await send({ answers: { [key]: standing(key) }, was: { [key]: standing(key) }, agreed: total });
    },
    // What another device changed meanwhile: theirs is taken, or mine stays.
    other: (key: string) => others.includes(key) && key in typed,
    settle: (key: string, mine: boolean) => {
      setOthers((old) => old.filter((k) => k !== key));
      setTyped((old) => {
        const { [key]: field, ...rest } = old;
        return mine && field ? { ...rest, [key]: { value: field.value, was: standing(key) } } : rest;
      });
      soon(0);
    },
  };
}
