import { Input } from "antd";
import { Stepper } from "../Stepper";

type Props = {
  id: string;
  value: number | undefined;
  least: number;
  most: number;
  unit?: string;
  label?: string;
  labelledBy?: string;
  describedBy?: string;
  invalid?: boolean;
  disabled?: boolean;
  onChange: (n: number | undefined) => void;
};

// Counter counts: with a button for one less and one more, or typed.
export function Counter(p: Props) {
  return (
    <div className="row">
      <Stepper
        value={p.value}
        least={p.least}
        most={p.most}
        first={Math.max(1, p.least)}
        what={p.label}
        disabled={p.disabled}
        onChange={p.onChange}
      >
        <Input
          id={p.id}
          className="num"
          inputMode="numeric"
          value={p.value ?? (p.least === 0 ? "0" : "")}
          disabled={p.disabled}
          status={p.invalid ? "error" : undefined}
          aria-label={p.label}
          aria-labelledby={p.label ? undefined : p.labelledBy}
          aria-describedby={p.describedBy}
          aria-invalid={p.invalid || undefined}
          onChange={(e) => {
            const text = e.target.value.trim();
            if (text === "") p.onChange(undefined);
            else if (/^\d{1,6}$/.test(text)) p.onChange(Number(text));
          }}
        />
      </Stepper>
      {p.unit && <span className="quiet">{p.unit}</span>}
    </div>
  );
}
