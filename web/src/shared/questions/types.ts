import type { Schemas } from "../api/client";

export type Question = Schemas["QuestionView"];

// What the field of a question gets, whatever its kind.
export type FieldProps = {
  id: string;
  q: Question;
  value: unknown;
  onChange: (value: unknown) => void;
  page: Schemas["ProductPage"];
  openings?: Schemas["Opening"][];
  // text of a note, with its merge fields filled
  text?: string;
  describedBy?: string;
  invalid?: boolean;
  disabled?: boolean;
};

// What the editor of a kind's settings gets at the desk.
export type EditorProps = {
  settings: Record<string, unknown>;
  onChange: (settings: Record<string, unknown>) => void;
  digits: number;
};
