import { Html } from "../../Html";
import type { FieldProps } from "../types";

export function Field({ text }: FieldProps) {
  return text ? <Html html={text} /> : null;
}
