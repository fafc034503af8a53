import { useTranslation } from "react-i18next";
import type { Asked, FieldProps } from "../types";

export type Choice = {
  code: string;
  label: string;
  help?: string;
  picture?: string;
  colour?: string;
  preselected?: boolean;
  article?: string;
  cost?: number;
  when?: unknown;
};

type Props = FieldProps & { chosen: string[]; several: boolean; toggle: (code: string) => void };

// offered leaves out the choices that the server does not offer now.
export const offered = (choices: Choice[], asked?: Asked) =>
  choices.filter((c) => !asked?.hidden?.includes(c.code));

// Left says how many are left of a choice, when they are few or none.
export function Left({ left }: { left?: number }) {
  const { t } = useTranslation();
  if (left === undefined) return null;
  return (
    <span className="mark attention choice-left">
      {left === 0 ? t("sold out") : t("{{count}} left", { count: left })}
    </span>
  );
}

// Choices draws the choices of a question as a list, as buttons, as cards with
// pictures or as colour swatches, with the price that each has beside it.
export function Choices({ id, q, chosen, several, toggle, asked, describedBy, disabled }: Props) {
  const choices = offered((q.settings.choices as Choice[] | undefined) ?? [], asked);
  const drawn = (q.settings.drawn as string | undefined) || "list";
  return (
    <fieldset
      id={id}
      className={`choices choices-${drawn}`}
      aria-describedby={describedBy}
      aria-labelledby={`${id}-label`}
    >
      {choices.map((c) => {
        const on = chosen.includes(c.code);
        const hint = q.choice_hints[c.code];
        const left = q.choices_left?.[c.code];
        return (
          <label key={c.code} className={on ? "choice on" : "choice"}>
            <input
              type={several ? "checkbox" : "radio"}
              name={id}
              value={c.code}
              checked={on}
              disabled={disabled || (left === 0 && !on)}
              onChange={() => toggle(c.code)}
              onClick={() => {
                // An optional choice can always be taken back.
                if (!several && on && !q.required) toggle(c.code);
              }}
            />
            {drawn === "swatches" && (
              <svg className="swatch" viewBox="0 0 32 32" aria-hidden="true">
                <circle cx="16" cy="16" r="15" fill={c.colour ?? "none"} />
              </svg>
            )}
            {drawn === "cards" &&
              (c.picture ? (
                <img className="choice-picture" src={`/pictures/${c.picture}`} alt="" />
              ) : (
                <span className="choice-picture" aria-hidden="true" />
              ))}
            <span className="choice-label">
              {c.label}
              {c.help && <span className="small quiet"> {c.help}</span>}
              <Left left={left} />
            </span>
            {hint && <span className="choice-hint num">{hint}</span>}
          </label>
        );
      })}
    </fieldset>
  );
}
