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

// late is a field that is loaded when a form first asks with it: the larger
// ones, which most forms do without.
const late = (load: () => Promise<Loaded>) => lazy(() => load().then((m) => ({ default: m.Field })));
const colour = late(() => import("./colour/Field"));
const files = late(() => import("./files/Field"));
const postal_address = late(() => import("./postal_address/Field"));
const repeat = late(() => import("./repeat/Field"));
const signature = late(() => import("./signature/Field"));

// The field of each kind of question, by the kind's name in the API.
export const fields: Record<string, ComponentType<FieldProps>> = {
  amount,
  booking,
  colour,
  consent,
  count,
  date,
  date_span,
  files,
  heading,
  link_value,
  long_text,
  mail,
  note,
  number,
  one_choice,
  phone,
  picture,
  postal_address,
  repeat,
  section,
  several_choices,
  short_text,
  signature,
  time,
  web_address,
  yes_no,
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
