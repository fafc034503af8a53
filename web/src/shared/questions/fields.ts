import { type ComponentType, lazy } from "react";
import { Field as amount } from "./amount/Field";
import { Field as booking } from "./booking/Field";
import { Field as consent } from "./consent/Field";
import { Field as count } from "./count/Field";
import { Field as date } from "./date/Field";
import { Field as date_span } from "./date_span/Field";
import { Field as heading } from "./heading/Field";
import { Field as link_value } from "./link_value/Field";
import { Field as long_text } from "./long_text/Field";
import { Field as mail } from "./mail/Field";
import { Field as note } from "./note/Field";
import { Field as number } from "./number/Field";
import { Field as one_choice } from "./one_choice/Field";
import { Field as phone } from "./phone/Field";
import { Field as picture } from "./picture/Field";
import { Field as section } from "./section/Field";
import { Field as several_choices } from "./several_choices/Field";
import { Field as short_text } from "./short_text/Field";
import { Field as time } from "./time/Field";
import type { FieldProps } from "./types";
import { Field as web_address } from "./web_address/Field";
import { Field as yes_no } from "./yes_no/Field";

type Loaded = { Field: ComponentType<FieldProps> };

// late are the larger fields, which most forms do without.
const late: Record<string, () => Promise<Loaded>> = {
  colour: () => import("./colour/Field"),
  files: () => import("./files/Field"),
  postal_address: () => import("./postal_address/Field"),
  repeat: () => import("./repeat/Field"),
  signature: () => import("./signature/Field"),
};

// The field of each kind of question, by the kind's name in the API.
export const fields: Record<string, ComponentType<FieldProps>> = {
  amount,
  booking,
  consent,
  count,
  date,
  date_span,
  heading,
  link_value,
  long_text,
  mail,
  note,
  number,
  one_choice,
  phone,
  picture,
  section,
  several_choices,
  short_text,
  time,
  web_address,
  yes_no,
  ...Object.fromEntries(
    Object.entries(late).map(([kind, load]) => [
      kind,
      lazy(() => load().then((m) => ({ default: m.Field }))),
    ]),
  ),
};

// What is only shown and never answered.
export const shown = new Set(["heading", "note", "picture", "section"]);

// Kinds whose field is one box that a label can name.
export const boxed = new Set([
  "short_text",
  "long_text",
  "number",
  "count",
  "date",
  "time",
  "mail",
  "phone",
  "web_address",
  "link_value",
  "amount",
]);

// Kinds that say themselves what is wrong with a part of their answer.
export const nested = new Set(["repeat", "postal_address", "files"]);

type Asking = { kind: string; settings?: Record<string, unknown> };

// loadFields loads the larger fields that questions need before they are drawn,
// so that none arrives later and pushes down what stands under it.
export async function loadFields(questions: Asking[]) {
  const asked = questions.flatMap((q) => [q, ...((q.settings?.questions as Asking[] | undefined) ?? [])]);
  const kinds = new Set(asked.map((q) => q.kind));
  for (const kind of kinds) {
    const load = late[kind];
    if (!load) continue;
    // A field that cannot be loaded is tried again where it is drawn.
    const loaded = await load().catch(() => undefined);
    if (loaded) fields[kind] = loaded.Field;
  }
}
