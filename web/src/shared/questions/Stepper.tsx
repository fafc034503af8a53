import { Button, Input } from "antd";
import { useTranslation } from "react-i18next";

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

// Stepper counts: with a button for one less and one more, or typed.
export function Stepper(p: Props) {
  const { t } = useTranslation();
  const now = p.value ?? p.least;
  const what = p.label ? ` ${p.label}` : "";
  return (
    <div className="row stepper">
      <Button
        aria-label={t("one less") + what}
        disabled={p.disabled || now <= p.least}
        onClick={() => p.onChange(Math.max(p.least, now - 1))}
      >
        −
      </Button>
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
      <Button
        aria-label={t("one more") + what}
        disabled={p.disabled || now >= p.most}
        onClick={() => p.onChange(Math.min(p.most, p.value === undefined ? Math.max(1, p.least) : now + 1))}
      >
        +
      </Button>
      {p.unit && <span className="quiet">{p.unit}</span>}
    </div>
  );
}
