import { Button, Select } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { digits } from "../../shared/currency";
import { CancelRules } from "../CancelRules";
import { OrderCharges } from "./OrderCharges";
import { RoundTo } from "./RoundTo";
import { TipTerms } from "./TipTerms";

type Further = Schemas["FurtherTerms"];

type Props = {
  terms: Schemas["BusinessTerms"];
  change: (further: Further[]) => void;
  of: (key: string) => string | undefined;
};

// FurtherCurrencies edits in which currencies one sells besides one's own, and
// what holds for whole orders in each: nothing is converted.
export function FurtherCurrencies({ terms, change, of }: Props) {
  const { t } = useTranslation();
  const list = terms.further ?? [];
  const taken = [terms.currency, ...list.map((f) => f.currency)];
  const set = (i: number, part: Partial<Further["terms"]>) =>
    change(list.map((f, n) => (n === i ? { ...f, terms: { ...f.terms, ...part } } : f)));
  // What names no amount can hold in the other currency too.
  const fresh = (currency: string): Further => ({
    currency,
    terms: {
      ...terms.terms,
      round_to: currency === "CHF" ? 5 : undefined, // cash has no smaller coin there
      tip: undefined,
      charges: terms.terms.charges?.filter((c) => c.amount === undefined && !c.at_least && !c.below),
      cancelling: terms.terms.cancelling && {
        rules: terms.terms.cancelling.rules?.filter((r) => r.amount === undefined),
      },
    },
  });
  return (
    <section className="sheet">
      <h2>{t("Further currencies")}</h2>
      <p className="quiet small">
        {t(
          "Customers see and pay one currency. What you sell in others has a price list in each; nothing is converted. Charges, tips and cancelling rules that name amounts are given for each.",
        )}
      </p>
      {of("further") && (
        <div className="question-fault" role="alert">
          {of("further")}
        </div>
      )}
      {list.map((f, i) => (
        <section key={f.currency} className="further" aria-label={f.currency}>
          <div className="row">
            <h3 className="grow">{f.currency}</h3>
            <Button
              size="small"
              aria-label={t("Take {{what}} away", { what: f.currency })}
              onClick={() => change(list.toSpliced(i, 1))}
            >
              ×
            </Button>
          </div>
          {of(`further[${i}].terms`) && (
            <div className="notice bad" role="alert">
              {of(`further[${i}].terms`)}
            </div>
          )}
          <div className="pair">
            <RoundTo
              id={`${f.currency}-round_to`}
              value={f.terms.round_to}
              change={(round_to) => set(i, { round_to })}
              currency={f.currency}
            />
          </div>
          <OrderCharges
            prefix={`${f.currency}-`}
            charges={f.terms.charges ?? []}
            change={(charges) => set(i, { charges: charges.length > 0 ? charges : undefined })}
            places={digits(f.currency)}
            currency={f.currency}
          />
          <TipTerms
            prefix={`${f.currency}-`}
            tip={f.terms.tip}
            change={(tip) => set(i, { tip })}
            places={digits(f.currency)}
            currency={f.currency}
          />
          <h3>{t("When something is cancelled")}</h3>
          <CancelRules
            rules={f.terms.cancelling?.rules ?? []}
            change={(rules) => set(i, { cancelling: rules.length > 0 ? { rules } : undefined })}
            digits={digits(f.currency)}
            currency={f.currency}
          />
        </section>
      ))}
      <Select
        aria-label={t("Sell in one more currency")}
        className="add-from"
        showSearch
        value={null}
        placeholder={t("sell in one more currency")}
        onChange={(c: string | null) => c !== null && change([...list, fresh(c)])}
        options={terms.currencies.filter((c) => !taken.includes(c)).map((c) => ({ value: c, label: c }))}
      />
    </section>
  );
}
