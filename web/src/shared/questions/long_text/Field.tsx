import { TextField } from "../short_text/Field";
import type { FieldProps } from "../types";

export function Field(props: FieldProps) {
  return <TextField {...props} lines longest={5000} />;
}
