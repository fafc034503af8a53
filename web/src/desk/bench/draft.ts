import type { Schemas } from "../../shared/api/client";

export type Draft = Schemas["Draft"];
export type Question = Schemas["DraftQuestion"];
export type Charge = Schemas["Charge"];
export type Step = Schemas["Step"];
export type NamedFormula = Schemas["NamedFormula"];
export type Moment = Schemas["Moment"];

export type Measure = "person" | "hour" | "day" | "night";

// What of a product is selected on the bench.
export type Selected = { part: "product" | "price" | "booking" } | { part: "question" | "step"; key: string };

export const moments: Moment[] = ["choosing", "paying", "briefing", "desk"];

export { keyOf } from "../../shared/questions/key";

// addQuestion puts a question at the end of a moment.
export function addQuestion(draft: Draft, q: Question): Draft {
  const list = draft.questions ?? [];
  const after = moments.indexOf(q.moment);
  let at = list.findIndex((x) => moments.indexOf(x.moment) > after);
  if (at < 0) at = list.length;
  return { ...draft, questions: list.toSpliced(at, 0, q) };
}

// moveQuestion moves a question one place along the path.
export function moveQuestion(draft: Draft, key: string, by: 1 | -1): Draft {
  const at = flat(draft).indexOf(key);
  return placeQuestion(draft, at, at + by);
}

// flat lists what stands on the path: each moment, written "@choosing", and
// after it the keys of its questions, those of a section right after it.
export function flat(draft: Draft): string[] {
  const list = ordered(draft);
  return moments.flatMap((m) => {
    const here = list.filter((q) => q.moment === m);
    const inside = (q: Question) => here.some((s) => s.kind === "section" && s.key === q.section);
    return [
      `@${m}`,
      ...here
        .filter((q) => !inside(q))
        .flatMap((q) => [q.key, ...here.filter((x) => x.section === q.key).map((x) => x.key)]),
    ];
  });
}

// placeQuestion moves what stands at one place of the path to another: into
// another moment, and into or out of a section. A section takes its questions
// along.
export function placeQuestion(draft: Draft, from: number, to: number): Draft {
  const path = flat(draft);
  const key = path[from];
  const byKey = new Map((draft.questions ?? []).map((q) => [q.key, q]));
  const moved = key === undefined ? undefined : byKey.get(key);
  if (!moved || key === undefined) return draft;
  const train = [key, ...path.filter((k) => moved.kind === "section" && byKey.get(k)?.section === key)];
  const before = path[to];
  if (before !== undefined && before !== key && train.includes(before)) return draft;
  const rest = path.filter((k) => !train.includes(k));
  const at = Math.max(1, before === undefined ? rest.length : rest.indexOf(before) + (to > from ? 1 : 0));
  const next = rest.toSpliced(at, 0, ...train);
  const above = byKey.get(next[at - 1] ?? "");
  const section = above?.kind === "section" ? above.key : above?.section;
  let moment: Moment = "choosing";
  const questions: Question[] = [];
  for (const k of next) {
    const q = byKey.get(k);
    if (!q) moment = k.slice(1) as Moment;
    else questions.push(inMoment(k === key && q.kind !== "section" ? { ...q, section } : q, moment));
  }
  return { ...draft, questions };
}

const inMoment = (q: Question, moment: Moment): Question =>
  q.moment === moment
    ? q
    : { ...q, moment, later: moment === "briefing" || moment === "desk" ? undefined : q.later };

// ordered gives the questions in the order of their moments.
export function ordered(draft: Draft): Question[] {
  return (draft.questions ?? []).toSorted((a, b) => moments.indexOf(a.moment) - moments.indexOf(b.moment));
}

// rekey gives a question that nothing reads yet another key.
export function rekey(draft: Draft, from: string, to: string): Draft {
  return {
    ...draft,
    questions: draft.questions?.map((q) =>
      q.key === from ? { ...q, key: to } : q.section === from ? { ...q, section: to } : q,
    ),
    charges: draft.charges?.map((c) => (c.on === from ? { ...c, on: to } : c)),
  };
}

// clean leaves out what is not set, so that a draft reads the same however it
// came about.
const clean = <T extends object>(o: T): T =>
  Object.fromEntries(Object.entries(o).filter(([, v]) => v !== undefined)) as T;

// dropQuestion takes a question away with the charges on it.
export function dropQuestion(draft: Draft, key: string): Draft {
  return {
    ...draft,
    questions: draft.questions
      ?.filter((q) => q.key !== key)
      .map((q) => (q.section === key ? { ...q, section: undefined } : q)),
    charges: draft.charges?.filter((c) => c.on !== key),
    steps: draft.steps?.map((s) => ({ ...s, needs: s.needs?.filter((k) => k !== key) })),
  };
}

// shiftLinked changes what a product has differently from a linked question.
export function shiftLinked(draft: Draft, q: Question, part: Partial<Schemas["SheetShift"]>): Draft {
  const sheet = q.sheet ?? 0;
  const uses = draft.sheets ?? [];
  const use = uses.find((u) => u.sheet === sheet) ?? { sheet };
  const old = use.changes?.find((c) => c.key === q.key) ?? { key: q.key };
  const next = clean({ ...old, ...part });
  const others = use.changes?.filter((c) => c.key !== q.key) ?? [];
  const changes = Object.keys(next).length > 1 ? [...others, next] : others;
  const now = clean({ ...use, changes: changes.length > 0 ? changes : undefined });
  return { ...draft, sheets: [...uses.filter((u) => u.sheet !== sheet), now] };
}

// linkSheet links a sheet.
export function linkSheet(draft: Draft, sheet: number): Draft {
  return { ...draft, sheets: [...(draft.sheets ?? []).filter((u) => u.sheet !== sheet), { sheet }] };
}

// What sheets bring into a product besides questions.
export type Linked = { charges: Charge[]; values: NamedFormula[]; steps: Step[] };

// detachSheet makes what a linked sheet brings in the product's own.
export function detachSheet(draft: Draft, sheet: number, linked: Question[], content: Linked): Draft {
  const own = <T extends { sheet?: number }>(old: T[] | undefined, all: T[]) => {
    const mine = all.filter((x) => x.sheet === sheet).map((x) => clean({ ...x, sheet: undefined }));
    return mine.length > 0 ? [...(old ?? []), ...mine] : old;
  };
  return {
    ...leaveSheet(draft, sheet),
    questions: own(draft.questions, linked) ?? [],
    charges: own(draft.charges, content.charges),
    values: own(draft.values, content.values),
    steps: own(draft.steps, content.steps),
  };
}

// figureLinked has a figure of a sheet differently in this product, or as in the
// sheet again.
export function figureLinked(
  draft: Draft,
  sheet: number,
  place: string,
  figure: Omit<Schemas["SheetFigure"], "place"> | undefined,
): Draft {
  const uses = draft.sheets ?? [];
  const use = uses.find((u) => u.sheet === sheet) ?? { sheet };
  const others = use.figures?.filter((f) => f.place !== place) ?? [];
  const figures = figure ? [...others, { place, ...figure }] : others;
  const now = clean({ ...use, figures: figures.length > 0 ? figures : undefined });
  return { ...draft, sheets: [...uses.filter((u) => u.sheet !== sheet), now] };
}

// leaveSheet lets go of a sheet and what it brought in.
export function leaveSheet(draft: Draft, sheet: number): Draft {
  return {
    ...draft,
    sheets: [...(draft.sheets ?? []).filter((u) => u.sheet !== sheet), { sheet, detached: true }],
  };
}

// touched names the one place that differs from what it was, as the way to it
// such as "/questions/2/wording/"; nothing where several differ, or where
// something was moved, added or taken away.
export const touched = (old: Draft, now: Draft): string => difference(old, now) ?? "";

// difference gives the way to the one difference; "" when there are several,
// undefined when there is none.
function difference(a: unknown, b: unknown): string | undefined {
  if (Object.is(a, b)) return undefined;
  const within =
    a && b && typeof a === "object" && typeof b === "object" && Array.isArray(a) === Array.isArray(b);
  if (!within) return "/";
  const [old, now] = [a as Record<string, unknown>, b as Record<string, unknown>];
  if (Array.isArray(a) && a.length !== (b as unknown[]).length) return "";
  const ways = Object.keys({ ...old, ...now }).flatMap((key) => {
    const way = difference(old[key], now[key]);
    return way === undefined ? [] : [way && `/${key}${way}`];
  });
  return ways.length > 1 ? "" : ways[0];
}
