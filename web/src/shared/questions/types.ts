import type { Schemas } from "../api/client";
import type { DaysSource } from "../days/source";

export type Question = Schemas["QuestionView"];
export type Asked = Schemas["AskedQuestion"];

// What is wrong with an answer: with all of it where the path is empty, or
// with a part, such as "0.name" of a list of entries.
export type Fault = { path: string; code: string; message: string };

// faultsOf picks what is wrong with one answer from the errors of a form.
export function faultsOf(errors: Schemas["FieldError"][], key: string): Fault[] {
  return errors
    .filter((e) => e.key === key || e.key.startsWith(`${key}.`))
    .map((e) => ({ path: e.key.slice(key.length + 1), code: e.code, message: e.message }));
}

// partOf picks what is wrong with a part of an answer.
export function partOf(faults: Fault[], path: string): Fault[] {
  return faults
    .filter((f) => f.path === path || f.path.startsWith(`${path}.`))
    .map((f) => ({ ...f, path: f.path.slice(path.length + 1) }));
}

// What the field of a question gets, whatever its kind.
export type FieldProps = {
  id: string;
  q: Question;
  value: unknown;
  onChange: (value: unknown) => void;
  page: Schemas["ProductPage"];
  days?: DaysSource;
  // what the server says of the question: the text of a note, the words of
  // the answer, the choices that are not offered
  asked?: Asked;
  faults: Fault[];
  describedBy?: string;
  invalid?: boolean;
  disabled?: boolean;
};

// What the editor of a kind's settings gets at the desk.
export type EditorProps = {
  settings: Record<string, unknown>;
  onChange: (settings: Record<string, unknown>) => void;
  digits: number;
  // the question's key, and the product's other questions
  at?: string;
  questions?: Schemas["DraftQuestion"][];
  // of choices: only one can be preselected
  single?: boolean;
};
