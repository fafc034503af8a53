import { type FormEvent, useState } from "react";
import { useTranslation } from "react-i18next";
import { Problem } from "../../api/client";
import type { BookableDay, DaysSource } from "../../days/source";
import { Labelled } from "../../Labelled";
import { Trouble } from "../../Trouble";
import { useChange } from "../../useChange";

type Props = {
  id: string;
  // what is booked up on the day that is looked at
  openings: BookableDay["openings"];
  people: number;
  picked: number[];
  wait: NonNullable<DaysSource["wait"]>;
};

// Wait has a customer told when something that is booked up comes free.
export function Wait({ id, openings, people, picked, wait }: Props) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  const [start, setStart] = useState<string>();
  const [name, setName] = useState("");
  const [email, setEmail] = useState("");
  const one = openings.find((o) => o.start === start) ?? openings[0];
  const send = useChange({
    once: true,
    send: async () => {
      if (!one) throw new Error("nothing to wait for");
      return wait({
        start: one.start,
        end: one.end,
        people,
        name,
        email,
        ...(picked.length > 0 && { with: picked }),
      });
    },
  });
  if (!one) return null;
  if (send.data)
    return (
      <div className="notice good" role="status">
        {t("You get a mail when it comes free. It is held for you for {{count}} hours then.", {
          count: send.data.hours,
        })}
      </div>
    );
  if (!open)
    return (
      <button type="button" className="linkish" onClick={() => setOpen(true)}>
        {t("Tell me when a time of this day comes free")}
      </button>
    );
  const fault = (key: string) => (send.problem instanceof Problem ? send.problem.of(key) : undefined);
  const submit = (e: FormEvent | React.KeyboardEvent) => {
    e.preventDefault();
    send.send();
  };
  const enters = (e: React.KeyboardEvent) => e.key === "Enter" && submit(e);
  return (
    <div className="booking-wait">
      {openings.length > 1 && (
        <div className="choice-buttons">
          {openings.map((o) => (
            <button
              key={o.start}
              type="button"
              className="choice-button"
              aria-pressed={o.start === one.start}
              onClick={() => setStart(o.start)}
            >
              {o.time}–{o.ends}
            </button>
          ))}
        </div>
      )}
      <Labelled id={`${id}-wait-name`} wording={t("Your name")} fault={fault("name")}>
        <input
          id={`${id}-wait-name`}
          className="plain-field"
          autoComplete="name"
          value={name}
          onChange={(e) => setName(e.target.value)}
          onKeyDown={enters}
        />
      </Labelled>
      <Labelled id={`${id}-wait-email`} wording={t("Mail address")} fault={fault("email")}>
        <input
          id={`${id}-wait-email`}
          className="plain-field"
          type="email"
          autoComplete="email"
          value={email}
          onChange={(e) => setEmail(e.target.value)}
          onKeyDown={enters}
        />
      </Labelled>
      {fault("name") === undefined && fault("email") === undefined && <Trouble error={send.problem} />}
      <button type="button" className="choice-button" disabled={send.busy} onClick={submit}>
        {t("Tell me")}
      </button>
    </div>
  );
}
