import type { FieldProps } from "../types";
import { Choices } from "./Choices";

export function Field(props: FieldProps) {
  const chosen = typeof props.value === "string" ? [props.value] : [];
  return (
    <Choices
      {...props}
      several={false}
      chosen={chosen}
      toggle={(code) => props.onChange(chosen.includes(code) && !props.q.required ? null : code)}
    />
  );
}
