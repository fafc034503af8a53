import { Choices } from "../one_choice/Choices";
import type { FieldProps } from "../types";
import { Counted } from "./Counted";

export function Field(props: FieldProps) {
  if (props.q.settings.counted) return <Counted {...props} />;
  const chosen = Array.isArray(props.value) ? (props.value as string[]) : [];
  const toggle = (code: string) => {
    const next = chosen.includes(code) ? chosen.filter((c) => c !== code) : [...chosen, code];
    props.onChange(next.length === 0 ? null : next);
  };
  return <Choices {...props} several chosen={chosen} toggle={toggle} />;
}
