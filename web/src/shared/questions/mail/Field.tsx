import { Line } from "../Line";
import type { FieldProps } from "../types";

export function Field(props: FieldProps) {
  return <Line {...props} type="email" complete="email" />;
}
