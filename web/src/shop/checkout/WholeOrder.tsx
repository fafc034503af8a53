import { Button, Checkbox, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import type { Problem, Schemas } from "../../shared/api/client";
import { digits } from "../../shared/currency";
import { money } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { MoneyBox } from "../../shared/questions/boxes";
import { RecipientFields } from "../gift/RecipientFields";
import { useExtras } from "../keep";

type Props = { view: Schemas["BasketView"]; problem?: Problem };

// ForSomebody asks for whom it is, once somebody says that it is for another.
export function ForSomebody({ problem }: Pick<Props, "problem">) {
  const { t } = useTranslation();
  const [extras, setExtras] = useExtras();
  const wish = extras.recipient;
  return (
    <section className="whole-order">
      <Checkbox
        checked={wish !== undefined}
        onChange={(e) =>
          setExtras((old) => ({
            ...old,
            recipient: e.target.checked ? { name: "", answers: true, files: true } : undefined,
          }))
        }
      >
        {t("It is for somebody else")}
      </Checkbox>
      {wish && (
        <RecipientFields
          wish={wish}
          set={(recipient) => setExtras((old) => ({ ...old, recipient }))}
          of={(key) => problem?.of(`recipient.${key}`)}
        />
      )}
    </section>
  );
}

// Buyer asks whether a business orders. A tax id is asked for only where it changes the tax.
export function Buyer({ view, problem }: Props) {
  const { t } = useTranslation();
  const [extras, setExtras] = useExtras();
  const buyer = extras.buyer ?? {};
  const set = (part: Partial<Schemas["Buyer"]>) =>
    setExtras((old) => ({ ...old, buyer: { ...old.buyer, ...part } }));
  const of = (key: string) => problem?.of(`buyer.${key}`);
  return (
    <section className="whole-order">
      <Checkbox
        checked={buyer.business ?? false}
        onChange={(e) => set({ business: e.target.checked || undefined })}
      >
        {t("I order for a business")}
      </Checkbox>
      {buyer.business && (
        <div className="pair">
          <Labelled id="company" wording={t("Name of the business")} fault={of("company")}>
            <Input
              id="company"
              autoComplete="organization"
              maxLength={200}
              value={buyer.company ?? ""}
              onChange={(e) => set({ company: e.target.value })}
            />
          </Labelled>
          {view.asking.countries && (
            <Labelled id="country" wording={t("Its country")} fault={of("country")}>
              <Select
                id="country"
                showSearch={{ optionFilterProp: "label" }}
                value={buyer.country || undefined}
                onChange={(country: string) => set({ country })}
                options={view.asking.countries.map((c) => ({ value: c.code, label: c.name }))}
              />
            </Labelled>
          )}
          {view.asking.tax_id && (
            <Labelled
              id="tax_id"
              wording={t("Tax id")}
              help={t("With it, no tax is taken here; the business owes it in its country.")}
              fault={of("tax_id")}
            >
              <Input
                id="tax_id"
                maxLength={30}
                value={buyer.tax_id ?? ""}
                onChange={(e) => set({ tax_id: e.target.value })}
              />
            </Labelled>
          )}
        </div>
      )}
    </section>
  );
}

type TipProps = { tip: Schemas["Tip"]; currency: string; faults: Schemas["FieldError"][] };

// Tip asks what customers like to give on top.
export function Tip({ tip, currency, faults }: TipProps) {
  const { t } = useTranslation();
  const [extras, setExtras] = useExtras();
  const set = (a: number | undefined) => setExtras((old) => ({ ...old, tip: a || undefined }));
  return (
    <Labelled
      id="tip"
      wording={tip.label}
      help={t("If you like. Nothing is taken without your word.")}
      fault={faults.find((f) => f.key === "tip")?.message}
    >
      <div className="row tip">
        {(tip.suggestions ?? []).map((a) => (
          <Button
            key={a}
            aria-pressed={extras.tip === a}
            className={extras.tip === a ? "tip-on num" : "num"}
            onClick={() => set(extras.tip === a ? undefined : a)}
          >
            {money(a, currency)}
          </Button>
        ))}
        <span className="charge-box">
          <MoneyBox id="tip" digits={digits(currency)} prefix={currency} value={extras.tip} onChange={set} />
        </span>
      </div>
    </Labelled>
  );
}
