import { Html } from "../../Html";
import type { FieldProps } from "../types";

export function Field({ asked }: FieldProps) {
  return asked?.text ? <Html html={asked.text} /> : null;
}
