import type { FieldProps } from "../types";

export type Choice = { code: string; label: string; help?: string; colour?: string };

type Props = FieldProps & { chosen: string[]; several: boolean; toggle: (code: string) => void };

// Choices draws the choices of a question as a list, as buttons or as colour
// swatches, with the price that each has beside it.
export function Choices({ id, q, chosen, several, toggle, describedBy, disabled }: Props) {
  const choices = (q.settings.choices as Choice[] | undefined) ?? [];
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
        return (
          <label key={c.code} className={on ? "choice on" : "choice"}>
            <input
              type={several ? "checkbox" : "radio"}
              name={id}
              value={c.code}
              checked={on}
              disabled={disabled}
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
            <span className="choice-label">
              {c.label}
              {c.help && <span className="small quiet"> {c.help}</span>}
            </span>
            {hint && <span className="choice-hint num">{hint}</span>}
          </label>
        );
      })}
    </fieldset>
  );
}
