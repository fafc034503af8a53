import type { FieldProps } from "../types";

export function Field({ q }: FieldProps) {
  return <h2 className="question-heading">{q.wording}</h2>;
}
