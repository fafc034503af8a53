import type { Schemas } from "../../shared/api/client";
import { day, local } from "../../shared/format";

// when writes an instant as it is at the business.
export function when(instant: string, order: Schemas["OrderPage"]) {
  const at = local(instant, order.zone);
  return `${day(at.day, order.today)}, ${at.time}`;
}
