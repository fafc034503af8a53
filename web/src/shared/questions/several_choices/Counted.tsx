import { Counter } from "../Counter";
import { type Choice, Left, offered } from "../one_choice/Choices";
import type { FieldProps } from "../types";

// Counted asks how many of each choice.
export function Counted({ id, q, value, onChange, asked, describedBy, disabled }: FieldProps) {
  const counts = (value ?? {}) as Record<string, number>;
  const choices = offered((q.settings.choices as Choice[] | undefined) ?? [], asked);
  const most = (q.settings.most_each as number | undefined) ?? 999;
  const set = (code: string, n: number | undefined) => {
    const next = { ...counts, [code]: n ?? 0 };
    for (const [k, v] of Object.entries(next)) if (v === 0) delete next[k];
    onChange(Object.keys(next).length === 0 ? null : next);
  };
  return (
    <fieldset
      id={id}
      className="choices choices-list choices-counted"
      aria-labelledby={`${id}-label`}
      aria-describedby={describedBy}
    >
      {choices.map((c) => (
        <div key={c.code} className={counts[c.code] ? "choice on" : "choice"}>
          {c.picture && <img className="choice-thumb" src={`/pictures/${c.picture}`} alt="" />}
          <span className="choice-label">
            {c.label}
            {c.help && <span className="small quiet"> {c.help}</span>}
            <Left left={q.choices_left?.[c.code]} />
          </span>
          {q.choice_hints[c.code] && <span className="choice-hint num">{q.choice_hints[c.code]}</span>}
          <Counter
            id={`${id}-${c.code}`}
            label={c.label}
            value={counts[c.code]}
            least={0}
            most={Math.min(most, Math.max(q.choices_left?.[c.code] ?? most, counts[c.code] ?? 0))}
            disabled={disabled || (q.choices_left?.[c.code] === 0 && !counts[c.code])}
            onChange={(n) => set(c.code, n)}
          />
        </div>
      ))}
    </fieldset>
  );
}
