import type { ComponentType } from "react";
import { Field as amount } from "./amount/Field";
import { Field as booking } from "./booking/Field";
import { Field as date } from "./date/Field";
import { Field as heading } from "./heading/Field";
import { Field as long_text } from "./long_text/Field";
import { Field as note } from "./note/Field";
import { Field as number } from "./number/Field";
import { Field as one_choice } from "./one_choice/Field";
import { Field as several_choices } from "./several_choices/Field";
import { Field as short_text } from "./short_text/Field";
import type { FieldProps } from "./types";
import { Field as yes_no } from "./yes_no/Field";

// The field of each kind of question, by the kind's name in the API.
export const fields: Record<string, ComponentType<FieldProps>> = {
  amount,
  booking,
  date,
  heading,
  long_text,
  note,
  number,
  one_choice,
  several_choices,
  short_text,
  yes_no,
};

// What is only shown and never answered.
export const shown = new Set(["heading", "note"]);
