import type { Schemas } from "../../shared/api/client";

export type Draft = Schemas["Draft"];
export type Question = Schemas["DraftQuestion"];
export type Charge = Schemas["Charge"];
export type Step = Schemas["Step"];
export type Moment = Schemas["Moment"];

// What of a product is selected on the bench.
export type Selected = { part: "product" | "booking" } | { part: "question" | "step"; key: string };

export const moments: Moment[] = ["choosing", "paying", "briefing", "desk"];

// keyOf makes a key from a wording: "Title on the chart" becomes "title_on_the_chart".
export function keyOf(wording: string, taken: string[]) {
  const base =
    wording
      .normalize("NFD")
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "_")
      .replace(/^[^a-z]+|_+$/g, "")
      .slice(0, 30) || "question";
  let key = base;
  for (let n = 2; taken.includes(key) || reserved.includes(key); n++) key = `${base}_${n}`;
  return key;
}

const reserved = ["product", "order", "customer", "quantity"];

// addQuestion puts a question at the end of a moment.
export function addQuestion(draft: Draft, q: Question): Draft {
  const list = draft.questions ?? [];
  const after = moments.indexOf(q.moment);
  let at = list.findIndex((x) => moments.indexOf(x.moment) > after);
  if (at < 0) at = list.length;
  return { ...draft, questions: list.toSpliced(at, 0, q) };
}

// moveQuestion moves a question one place within its moment, or over the edge
// into the next one.
export function moveQuestion(draft: Draft, key: string, by: 1 | -1): Draft {
  const list = ordered(draft);
  const at = list.findIndex((q) => q.key === key);
  const q = list[at];
  if (!q) return draft;
  const other = list[at + by];
  if (other && other.moment === q.moment) {
    return { ...draft, questions: list.toSpliced(at, 1).toSpliced(at + by, 0, q) };
  }
  const moment = moments[moments.indexOf(q.moment) + by];
  return moment ? { ...draft, questions: list.with(at, { ...q, moment }) } : draft;
}

// ordered gives the questions in the order of their moments.
export function ordered(draft: Draft): Question[] {
  return (draft.questions ?? []).toSorted((a, b) => moments.indexOf(a.moment) - moments.indexOf(b.moment));
}

// renameKey changes a question's key everywhere that the draft uses it.
export function renameKey(draft: Draft, from: string, to: string): Draft {
  const condition = (c: Schemas["Condition"] | undefined): Schemas["Condition"] | undefined =>
    c && {
      ...c,
      answer: c.answer === from ? to : c.answer,
      all: c.all?.map((x) => condition(x) as Schemas["Condition"]),
      any: c.any?.map((x) => condition(x) as Schemas["Condition"]),
      none: c.none?.map((x) => condition(x) as Schemas["Condition"]),
    };
  const fields = (text: string | undefined) => text?.replaceAll(`{{${from}}}`, `{{${to}}}`);
  return {
    ...draft,
    questions: draft.questions?.map((q) => ({
      ...q,
      key: q.key === from ? to : q.key,
      when: condition(q.when),
      settings: q.kind === "note" ? { ...q.settings, text: fields(q.settings?.text as string) } : q.settings,
    })),
    charges: draft.charges?.map((c) => (c.on === from ? { ...c, on: to } : c)),
    steps: draft.steps?.map((s) => ({
      ...s,
      when: condition(s.when),
      needs: s.needs?.map((k) => (k === from ? to : k)),
      instructions: fields(s.instructions),
      minutes: s.minutes.of === from ? { ...s.minutes, of: to } : s.minutes,
    })),
  };
}

// dropQuestion takes a question away with the charges on it.
export function dropQuestion(draft: Draft, key: string): Draft {
  return {
    ...draft,
    questions: draft.questions?.filter((q) => q.key !== key),
    charges: draft.charges?.filter((c) => c.on !== key),
    steps: draft.steps?.map((s) => ({ ...s, needs: s.needs?.filter((k) => k !== key) })),
  };
}
