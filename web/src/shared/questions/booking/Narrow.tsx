import { useTranslation } from "react-i18next";
import type { Schemas } from "../../api/client";
import { span } from "../../format";

const buttonsUpTo = 6; // lengths that stand beside each other

type LengthsProps = {
  id: string;
  lengths: number[];
  value?: number;
  disabled?: boolean;
  choose: (minutes: number) => void;
};

// Lengths has the customer choose how long it is.
export function Lengths({ id, lengths, value, disabled, choose }: LengthsProps) {
  const { t } = useTranslation();
  if (lengths.length > buttonsUpTo)
    return (
      <label className="row booking-narrow" htmlFor={id}>
        <span>{t("How long")}</span>
        <select
          id={id}
          className="plain-field"
          value={value}
          disabled={disabled}
          onChange={(e) => choose(Number(e.target.value))}
        >
          {lengths.map((n) => (
            <option key={n} value={n}>
              {span(n)}
            </option>
          ))}
        </select>
      </label>
    );
  return (
    <fieldset className="booking-narrow">
      <legend>{t("How long")}</legend>
      <div className="choice-buttons">
        {lengths.map((n) => (
          <button
            key={n}
            type="button"
            className="choice-button"
            aria-pressed={n === value}
            disabled={disabled}
            onClick={() => choose(n)}
          >
            {span(n)}
          </button>
        ))}
      </div>
    </fieldset>
  );
}

type WithsProps = {
  id: string;
  need: Schemas["NeedAsked"];
  picked: number[];
  disabled?: boolean;
  choose: (picked: number[]) => void;
};

// Withs has the customer choose a person, a room or a thing, or any of them.
export function Withs({ need, picked, disabled, choose }: WithsProps) {
  const { t } = useTranslation();
  const others = picked.filter((x) => !need.of.some((r) => r.id === x));
  const on = (x: number) => picked.includes(x);
  return (
    <fieldset className="booking-narrow">
      <legend>{need.name}</legend>
      <div className="choice-buttons">
        <button
          type="button"
          className="choice-button"
          aria-pressed={!need.of.some((r) => on(r.id))}
          disabled={disabled}
          onClick={() => choose(others)}
        >
          {t("no preference")}
        </button>
        {need.of.map((r) => (
          <button
            key={r.id}
            type="button"
            className="choice-button"
            aria-pressed={on(r.id)}
            disabled={disabled}
            onClick={() => choose([...others, r.id])}
          >
            {r.name}
          </button>
        ))}
      </div>
    </fieldset>
  );
}
