import { Button, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { DecimalBox, MoneyBox } from "../../shared/questions/boxes";
import { PortionBox } from "../PortionBox";

type OrderCharge = NonNullable<Schemas["Terms"]["charges"]>[number];
type ListProps = {
  charges: OrderCharge[];
  change: (charges: OrderCharge[]) => void;
  places: number;
  currency: string;
  // tells the fields of one currency from those of another
  prefix?: string;
};

// OrderCharges edits the charges of whole orders in one currency.
export function OrderCharges({ charges, change, places, currency, prefix = "" }: ListProps) {
  const { t } = useTranslation();
  const set = (i: number, c: OrderCharge) => change(charges.with(i, c));
  return (
    <section className="sheet">
      <h2>{t("Charges of the whole order")}</h2>
      {charges.map((c, i) => {
        const n = i + 1;
        const name = (what: string) => `${what}, ${t("order charge {{n}}", { n })}`;
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a charge is known by its place
          <div key={i} className="row order-charge">
            <Input
              className="order-charge-label"
              aria-label={name(t("On the slip as"))}
              value={c.label}
              onChange={(e) => set(i, { ...c, label: e.target.value })}
            />
            <Select
              aria-label={name(t("What it does"))}
              value={c.effect}
              onChange={(effect) => set(i, { ...c, effect })}
              options={[
                { value: "adds", label: t("adds") },
                { value: "takes_off", label: t("takes off") },
              ]}
            />
            <PortionBox
              id={`${prefix}order-charge-${n}`}
              value={c}
              change={(next) => set(i, next)}
              digits={places}
              currency={currency}
              amount={t("as an amount")}
              percent={t("per cent")}
              fresh={{ amount: 300, percent: "2" }}
              name={name}
            />
            <label className="row small" htmlFor={`${prefix}order-charge-${n}-tax`}>
              {t("taxed")}
              <span className="charge-box narrow">
                <DecimalBox
                  id={`${prefix}order-charge-${n}-tax`}
                  suffix="%"
                  value={c.tax}
                  onChange={(tax) => set(i, { ...c, tax: tax ?? "0" })}
                />
              </span>
            </label>
            <label className="row small" htmlFor={`${prefix}order-charge-${n}-from`}>
              {t("for orders from")}
              <span className="charge-box">
                <MoneyBox
                  id={`${prefix}order-charge-${n}-from`}
                  digits={places}
                  value={c.at_least || undefined}
                  onChange={(at_least) => set(i, { ...c, at_least })}
                />
              </span>
            </label>
            <label className="row small" htmlFor={`${prefix}order-charge-${n}-below`}>
              {t("below")}
              <span className="charge-box">
                <MoneyBox
                  id={`${prefix}order-charge-${n}-below`}
                  digits={places}
                  value={c.below || undefined}
                  onChange={(below) => set(i, { ...c, below })}
                />
              </span>
            </label>
            <Button
              size="small"
              aria-label={t("Take {{what}} away", { what: c.label })}
              onClick={() => change(charges.toSpliced(i, 1))}
            >
              ×
            </Button>
          </div>
        );
      })}
      <Button
        size="small"
        onClick={() => change([...charges, { label: t("Handling"), effect: "adds", amount: 300, tax: "0" }])}
      >
        {t("Add a charge")}
      </Button>
    </section>
  );
}
