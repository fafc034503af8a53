import { Button } from "antd";
import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";

type Props = {
  value: number | undefined;
  least: number;
  most: number;
  step?: number;
  // what one more makes of nothing; the least without it
  first?: number;
  // what is counted, where several things are
  what?: string;
  disabled?: boolean;
  small?: boolean;
  onChange: (n: number) => void;
  // how the number itself is shown
  children: ReactNode;
};

// Stepper has a button for one less and one for one more around a number.
export function Stepper(p: Props) {
  const { t } = useTranslation();
  const { value, least, most, step = 1, first = least, what, disabled } = p;
  const size = p.small ? "small" : undefined;
  const within = (n: number) => p.onChange(Math.min(most, Math.max(least, n)));
  return (
    <div className="row stepper">
      <Button
        size={size}
        aria-label={what ? t("one {{what}} less", { what }) : t("one less")}
        disabled={disabled || value === undefined || value <= least}
        onClick={() => within((value ?? least) - step)}
      >
        −
      </Button>
      {p.children}
      <Button
        size={size}
        aria-label={what ? t("one {{what}} more", { what }) : t("one more")}
        disabled={disabled || (value !== undefined && value >= most)}
        onClick={() => within(value === undefined ? first : value + step)}
      >
        +
      </Button>
    </div>
  );
}
