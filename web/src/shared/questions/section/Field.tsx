import type { FieldProps } from "../types";

// A section's title; the questions that stand in it are drawn after it.
export function Field({ q }: FieldProps) {
  return q.wording ? <h3 className="question-heading">{q.wording}</h3> : null;
}
