import { Select } from "antd";
import { useTranslation } from "react-i18next";
import { DecimalBox, MoneyBox } from "../shared/questions/boxes";

// Portion is how much of a price something is: an amount, or per cent of it.
type Portion = { amount?: number; percent?: string };

type Props<T extends Portion> = {
  id: string;
  value: T;
  change: (value: T) => void;
  digits: number;
  currency: string;
  // what is chosen between, in words
  amount: string;
  percent: string;
  // what each begins with
  fresh: Required<Portion>;
  // a name for its parts, where no visible label has one
  name?: (part: string) => string;
};

// PortionBox asks for an amount or a percentage, whichever is chosen.
export function PortionBox<T extends Portion>(p: Props<T>) {
  const { t } = useTranslation();
  const { id, value, change, fresh } = p;
  const how = t("How it is given");
  const inPercent = value.percent !== undefined;
  return (
    <span className="row">
      <Select
        aria-label={p.name?.(how) ?? how}
        value={inPercent ? "percent" : "amount"}
        onChange={(as) =>
          change({ ...value, amount: undefined, percent: undefined, [as]: fresh[as as keyof Portion] })
        }
        options={[
          { value: "amount", label: p.amount },
          { value: "percent", label: p.percent },
        ]}
      />
      <span className="charge-box">
        {inPercent ? (
          <DecimalBox
            id={id}
            label={p.name?.(t("Per cent"))}
            suffix="%"
            value={value.percent}
            onChange={(percent) => percent !== undefined && change({ ...value, percent })}
          />
        ) : (
          <MoneyBox
            id={id}
            label={p.name?.(t("Amount"))}
            digits={p.digits}
            prefix={p.currency}
            value={value.amount}
            onChange={(amount) => amount !== undefined && change({ ...value, amount })}
          />
        )}
      </span>
    </span>
  );
}
