import { Line } from "../Line";
import type { FieldProps } from "../types";

// What came with the link is shown unless the seller hides it, and can be
// corrected.
export function Field(props: FieldProps) {
  return <Line {...props} />;
}
