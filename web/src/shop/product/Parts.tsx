import { Button } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { faultsOf } from "../../shared/questions/types";
import { Stepper } from "../../shared/Stepper";
import { useShop } from "../App";
import { see } from "../currency";

type Page = Schemas["ProductPage"];

// Left says that a product is sold out, or how few are left of it.
export function Left({ page }: { page: Page }) {
  const { t } = useTranslation();
  if (!page.sold_out && page.left === undefined) return null;
  return (
    <div className="notice attention" role="status">
      {page.sold_out
        ? t("This is sold out at the moment.")
        : t("Only {{count}} left.", { count: page.left ?? 0 })}
    </div>
  );
}

// Quantity asks how many units.
export function Quantity({ value, most, set }: { value: number; most: number; set: (by: number) => void }) {
  const { t } = useTranslation();
  return (
    <div className="question" data-question="quantity">
      <label htmlFor="quantity" className="question-wording">
        {t("How many?")}
      </label>
      <Stepper value={value} least={1} most={most} onChange={(n) => set(n - value)}>
        <output id="quantity" className="num">
          {value}
        </output>
      </Stepper>
    </div>
  );
}

// Whole says what is wrong with the product as a whole: with no single answer,
// but with what they come to.
export function Whole({ faults }: { faults: Schemas["FieldError"][] }) {
  return faults.map((f) => (
    <div key={f.code} className="notice bad product-whole" role="alert">
      {f.message}
    </div>
  ));
}

type StrangeProps = {
  page: Page;
  faults: Schemas["FieldError"][];
  answers: Record<string, unknown>;
  drop: (key: string) => void;
};

// Strange tells of hidden values that came with a link and do not fit.
export function Strange({ page, faults, answers, drop }: StrangeProps) {
  const { t } = useTranslation();
  return page.questions
    .filter((q) => q.kind === "link_value" && q.settings.hidden && faultsOf(faults, q.key).length > 0)
    .map((q) => (
      <div key={q.key} className="notice bad row" role="alert">
        <span className="grow">
          {t("The link that you followed carries something that does not fit here: {{value}}", {
            value: String(answers[q.key] ?? ""),
          })}
        </span>
        <Button size="small" onClick={() => drop(q.key)}>
          {t("Go on without it")}
        </Button>
      </div>
    ));
}

// OtherCurrency says that a product is not sold in the currency that the customer
// sees: it cannot be ordered together with what is.
export function OtherCurrency({ page }: { page: Schemas["ProductPage"] }) {
  const { t } = useTranslation();
  const shown = useShop().data?.currency;
  if (shown === undefined || shown === page.currency) return null;
  return (
    <div className="notice attention" role="status">
      {t("This is sold in {{own}} only, so it cannot be ordered in {{currency}}.", {
        own: page.currency,
        currency: shown,
      })}{" "}
      <button type="button" className="linkish" onClick={() => see(page.currency)}>
        {t("See all prices in {{currency}}", { currency: page.currency })}
      </button>
    </div>
  );
}
