import type { Question, Step } from "../draft";

// PartProps is what every part of a step's editor has.
export type PartProps = { s: Step; set: (part: Partial<Step>) => void };

export type WithQuestions = PartProps & { asked: Question[] };

// entryQuestions are the questions of an entry of a list.
export const entryQuestions = (q?: Question) => (q?.settings?.questions as Question[] | undefined) ?? [];

export type CodedChoice = { code: string; label: string };

// choicesOf are the choices of a question that has any.
export const choicesOf = (q?: Question) => (q?.settings?.choices as CodedChoice[] | undefined) ?? [];
