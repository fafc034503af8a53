import type { ComponentType } from "react";
import { Editor as amount } from "./amount/Editor";
import { Editor as booking } from "./booking/Editor";
import { Editor as date } from "./date/Editor";
import { Editor as heading } from "./heading/Editor";
import { Editor as long_text } from "./long_text/Editor";
import { Editor as note } from "./note/Editor";
import { Editor as number } from "./number/Editor";
import { Editor as one_choice } from "./one_choice/Editor";
import { Editor as several_choices } from "./several_choices/Editor";
import { Editor as short_text } from "./short_text/Editor";
import type { EditorProps } from "./types";
import { Editor as yes_no } from "./yes_no/Editor";

// The editor of each kind's settings, for the desk; with the name that sellers
// read, the settings that a new question begins with, and how conditions may
// compare its answers.
type Kind = {
  name: string;
  Editor: ComponentType<EditorProps>;
  begin?: Record<string, unknown>;
  compares: "text" | "number" | "yes_no" | "one" | "several" | "day" | "booking" | "nothing";
};

const first = [
  { code: "choice_1", label: "Choice 1" },
  { code: "choice_2", label: "Choice 2" },
];

export const kinds: Record<string, Kind> = {
  short_text: { name: "Short text", Editor: short_text, compares: "text" },
  long_text: { name: "Long text", Editor: long_text, compares: "text" },
  number: { name: "Number", Editor: number, compares: "number" },
  date: { name: "Date", Editor: date, compares: "day" },
  yes_no: { name: "Yes or no", Editor: yes_no, compares: "yes_no" },
  one_choice: { name: "One choice", Editor: one_choice, begin: { choices: first }, compares: "one" },
  several_choices: {
    name: "Several choices",
    Editor: several_choices,
    begin: { choices: first },
    compares: "several",
  },
  amount: { name: "Amount the customer sets", Editor: amount, compares: "number" },
  booking: { name: "Booking", Editor: booking, compares: "booking" },
  heading: { name: "Heading", Editor: heading, compares: "nothing" },
  note: { name: "Note", Editor: note, begin: { text: "…" }, compares: "nothing" },
};
