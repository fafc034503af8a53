import { type FormEvent, useState } from "react";
import { useTranslation } from "react-i18next";
import { Problem } from "../../api/client";
import type { DaysSource } from "../../days/source";
import { Labelled } from "../../Labelled";
import { Trouble } from "../../Trouble";
import { useChange } from "../../useChange";

type Props = {
  id: string;
  // what is booked up, of which one is waited for
  offers: Offer[];
  people: number;
  picked: number[];
  wait: NonNullable<DaysSource["wait"]>;
  // it is asked for already
  open?: boolean;
};

export type Offer = {
  start: string;
  end: string;
  label: string;
  meetings?: { start: string; end: string }[];
  of?: number;
};

// Wait has a customer told when something that is booked up comes free.
export function Wait({ id, offers, people, picked, wait, open: asked = false }: Props) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(asked);
  const [start, setStart] = useState<string>();
  const [name, setName] = useState("");
  const [email, setEmail] = useState("");
  const one = offers.find((o) => o.start === start) ?? offers[0];
  const send = useChange({
    once: true,
    send: async () => {
      if (!one) throw new Error("nothing to wait for");
      return wait({
        start: one.start,
        end: one.end,
        meetings: one.meetings,
        of: one.of,
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
      {offers.length > 1 && (
        <div className="choice-buttons">
          {offers.map((o) => (
            <button
              key={o.start}
              type="button"
              className="choice-button"
              aria-pressed={o.start === one.start}
              onClick={() => setStart(o.start)}
            >
              {o.label}
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
