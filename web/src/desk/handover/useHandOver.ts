import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { load, save } from "../../shared/kept";
import { forget, type Upload } from "../../shared/questions/files/sending";
import type { How } from "./How";
import { useFinished } from "./useFinished";

type Line = Schemas["HandoverLine"];
type Match = Schemas["FinishedMatch"];

// What became of an order's handover.
export type Given = { state: "going" | "given" | "refused"; message?: string };

// What is said with every handover.
export type Saying = { pattern: string; message: string; finish: boolean };

const memory = "ruvo.finished";

// useHandOver holds finished files that are handed over to many orders: which order
// each finds, and what became of it. Files that are at the server are there again after
// a reload.
export function useHandOver(wanted: number[], { pattern, message, finish }: Saying) {
  const queries = useQueryClient();
  const [files, setFiles] = useState<Upload[]>([]);
  const [put, setPut] = useState<Map<string, number>>(new Map()); // files by hand, 0 for none
  const [how, setHow] = useState<Map<number, How>>(new Map());
  const [given, setGiven] = useState<Map<number, Given>>(new Map());
  const [going, setGoing] = useState(false);
  const add = (u: Upload) => setFiles((old) => (old.some((f) => f.id === u.id) ? old : [...old, u]));
  const { sending, begin, again, cancel } = useFinished(add);
  useKept(files, add);
  const names = [...files.map((f) => f.name), ...sending.map((s) => s.file.name)];
  const { lines, matches, shown, scan, problem } = useMatches(names, wanted, pattern);

  const lineOf = (f: Upload): number => {
    const own = put.get(f.id);
    if (own !== undefined) return own;
    const found = matches.get(f.name)?.lines ?? [];
    return found.length === 1 ? (found[0] ?? 0) : 0;
  };
  const howOf = (l: Line): How => how.get(l.line) ?? { step: l.step, whole: l.whole };
  const groups = [...lines.values()]
    .map((line) => ({ line, files: files.filter((f) => lineOf(f) === line.line) }))
    .filter(
      (g) =>
        g.files.length > 0 ||
        wanted.includes(g.line.line) ||
        shown.includes(g.line.line) ||
        given.has(g.line.line),
    )
    .sort((a, b) => a.line.number - b.line.number || a.line.line - b.line.line);
  const ready = groups.filter((g) => g.files.length > 0);
  const tell = (line: number, state: Given) => setGiven((old) => new Map(old).set(line, state));

  // handOver hands over order by order: one that is refused holds none of the others up.
  const handOver = async () => {
    setGoing(true);
    for (const g of ready) {
      tell(g.line.line, { state: "going" });
      const h = howOf(g.line);
      try {
        await take(
          api.POST("/api/desk/dockets/{line}/handovers", {
            params: { path: { line: g.line.line } },
            body: {
              files: g.files.map((f) => f.id),
              message: message.trim() ? message : undefined,
              step: h.step || undefined,
              whole: h.whole,
              finish,
            },
          }),
        );
        tell(g.line.line, { state: "given" });
        const gone = new Set(g.files.map((f) => f.id));
        setFiles((old) => old.filter((f) => !gone.has(f.id)));
      } catch (e) {
        tell(g.line.line, {
          state: "refused",
          message: e instanceof Problem ? (e.errors[0]?.message ?? e.message) : String(e),
        });
      }
    }
    setGoing(false);
    for (const key of ["orders", "work", "today", "worksheet", "docket"])
      queries.invalidateQueries({ queryKey: [key] });
  };
  return {
    files,
    sending,
    begin,
    again,
    cancel,
    lines,
    groups,
    ready,
    loose: files.filter((f) => lineOf(f) === 0),
    fits: (f: Upload) => matches.get(f.name)?.lines ?? [],
    by: (f: Upload): Match["by"] => (put.has(f.id) ? undefined : matches.get(f.name)?.by),
    move: (f: Upload, line: number) => setPut((old) => new Map(old).set(f.id, line)),
    drop: (f: Upload) => {
      setFiles((old) => old.filter((x) => x.id !== f.id));
      forget(f.id);
    },
    howOf,
    setHow: (l: Line, h: How) => setHow((old) => new Map(old).set(l.line, h)),
    given,
    scan,
    problem,
    handOver,
    going,
  };
}

// useKept brings files that were sent before a reload back, and keeps which they are.
function useKept(files: Upload[], add: (u: Upload) => void) {
  const read = useRef(false);
  const adds = useRef(add);
  adds.current = add;
  useEffect(() => {
    let here = true;
    const known: string[] = load(memory, []);
    const asked = known.map((upload) =>
      take(api.GET("/api/shop/uploads/{upload}", { params: { path: { upload } } })).then(
        (u) => here && u.type && adds.current(u),
        () => undefined, // it is gone
      ),
    );
    Promise.all(asked).then(() => {
      read.current = here;
    });
    return () => {
      here = false;
    };
  }, []);
  useEffect(() => {
    if (read.current || files.length > 0) save(memory, files.length > 0 ? files.map((f) => f.id) : undefined);
  }, [files]);
}

// useMatches finds the orders that names lead to, also while the files are on their way.
function useMatches(names: string[], wanted: number[], pattern: string) {
  const [lines, setLines] = useState<Map<number, Line>>(new Map());
  const [matches, setMatches] = useState<Map<string, Match>>(new Map());
  const [shown, setShown] = useState<number[]>([]); // added by a scan
  const [problem, setProblem] = useState<unknown>();
  const know = (found: Line[]) =>
    setLines((old) => {
      const next = new Map(old);
      for (const l of found) if (!next.has(l.line)) next.set(l.line, l);
      return next;
    });
  const asked = JSON.stringify([[...new Set(names)].sort(), pattern, wanted]);
  const latest = useRef("");
  // biome-ignore lint/correctness/useExhaustiveDependencies: all that is asked stands in asked
  useEffect(() => {
    latest.current = asked;
    const soon = setTimeout(async () => {
      try {
        const found = await take(
          api.POST("/api/desk/finished/match", {
            body: { names: [...new Set(names)], lines: wanted, pattern: pattern || undefined },
          }),
        );
        if (latest.current !== asked) return;
        setProblem(undefined);
        setMatches(new Map(found.matches.map((m) => [m.name, m])));
        know(found.lines);
      } catch (e) {
        if (latest.current === asked) setProblem(e);
      }
    }, 250);
    return () => clearTimeout(soon);
  }, [asked]);
  const scan = async (code: string) => {
    try {
      const found = await take(api.POST("/api/desk/finished/match", { body: { names: [], code } }));
      know(found.lines);
      setShown((old) => [...old, ...found.lines.map((l) => l.line).filter((l) => !old.includes(l))]);
      setProblem(undefined);
      return true;
    } catch (e) {
      setProblem(e);
      return false;
    }
  };
  return { lines, matches, shown, scan, problem };
}
