import type { TFunction } from "i18next";
import type { ComponentType } from "react";
import { paints } from "../palette";
import { Editor as amount } from "./amount/Editor";
import { Editor as booking } from "./booking/Editor";
import { Editor as colour } from "./colour/Editor";
import { Editor as consent } from "./consent/Editor";
import { Editor as count } from "./count/Editor";
import { Editor as date } from "./date/Editor";
import { Editor as date_span } from "./date_span/Editor";
import { Editor as files } from "./files/Editor";
import { Editor as heading } from "./heading/Editor";
import { Editor as link_value } from "./link_value/Editor";
import { Editor as long_text } from "./long_text/Editor";
import { Editor as note } from "./note/Editor";
import { Editor as number } from "./number/Editor";
import { Editor as one_choice } from "./one_choice/Editor";
import { Editor as phone } from "./phone/Editor";
import { Editor as picture } from "./picture/Editor";
import { Editor as postal_address } from "./postal_address/Editor";
import { Editor as repeat } from "./repeat/Editor";
import { Editor as section } from "./section/Editor";
import { Plain } from "./settings";
import { Editor as several_choices } from "./several_choices/Editor";
import { Editor as short_text } from "./short_text/Editor";
import { Editor as signature } from "./signature/Editor";
import { Editor as time } from "./time/Editor";
import type { EditorProps } from "./types";
import { Editor as yes_no } from "./yes_no/Editor";

// The editor of each kind's settings, for the desk; with the name that sellers
// read and the settings that a new question begins with. What a kind can do is
// told by the server.
type Kind = {
  name: string;
  Editor: ComponentType<EditorProps>;
  begin?: (t: TFunction) => Record<string, unknown>;
};

const choices = (t: TFunction) =>
  [1, 2].map((n) => ({ code: `choice_${n}`, label: t("Choice {{n}}", { n }) }));

export const kinds: Record<string, Kind> = {
  short_text: {
    name: "Short text",
    Editor: short_text,
  },
  long_text: { name: "Long text", Editor: long_text },
  one_choice: {
    name: "One choice",
    Editor: one_choice,
    begin: (t) => ({ choices: choices(t) }),
  },
  several_choices: {
    name: "Several choices",
    Editor: several_choices,
    begin: (t) => ({ choices: choices(t) }),
  },
  yes_no: { name: "Yes or no", Editor: yes_no },
  number: { name: "Number", Editor: number },
  count: { name: "Count", Editor: count },
  date: { name: "Date", Editor: date },
  date_span: {
    name: "First and last day",
    Editor: date_span,
  },
  time: { name: "Time", Editor: time },
  files: { name: "Files", Editor: files },
  repeat: {
    name: "List of entries",
    Editor: repeat,
    begin: (t) => ({
      questions: [
        { key: "name", kind: "short_text", moment: "choosing", wording: t("Name"), required: true },
      ],
    }),
  },
  colour: {
    name: "Colour",
    Editor: colour,
    begin: (t) => ({
      palette: [
        { name: t("Midnight"), colour: paints.midnight },
        { name: t("Moss"), colour: paints.moss },
      ],
    }),
  },
  mail: { name: "Mail address", Editor: Plain },
  phone: { name: "Phone", Editor: phone },
  web_address: { name: "Web address", Editor: Plain },
  postal_address: { name: "Postal address", Editor: postal_address },
  signature: { name: "Signature", Editor: signature, begin: () => ({ text: "…" }) },
  consent: { name: "Consent", Editor: consent, begin: () => ({ text: "…", version: "1" }) },
  amount: { name: "Amount the customer sets", Editor: amount },
  booking: { name: "Booking", Editor: booking },
  link_value: { name: "Value from the link", Editor: link_value },
  section: { name: "Section", Editor: section },
  heading: { name: "Heading", Editor: heading },
  note: { name: "Note", Editor: note, begin: () => ({ text: "…" }) },
  picture: { name: "Picture", Editor: picture, begin: () => ({ picture: "mark.svg" }) },
};
