import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Input, Select } from "antd";
import { Fragment, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { digits } from "../../shared/currency";
import { Labelled } from "../../shared/Labelled";
import { lost } from "../../shared/lost";
import { WholeBox } from "../../shared/questions/boxes";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { CancelRules } from "../CancelRules";
import { MoneyTabs } from "../Tabs";
import { WaysBox } from "../WaysBox";
import { FurtherCurrencies } from "./FurtherCurrencies";
import { OrderCharges } from "./OrderCharges";
import { RoundTo } from "./RoundTo";
import { TipTerms } from "./TipTerms";

type BusinessTerms = Schemas["BusinessTerms"];

// unpriced gives terms whose amounts are still to be given: in another currency
// they would be others.
function unpriced(terms: BusinessTerms["terms"]): BusinessTerms["terms"] {
  return {
    ...terms,
    charges: terms.charges?.map((c) => ({ ...c, amount: undefined, at_least: undefined, below: undefined })),
    cancelling: terms.cancelling && {
      rules: terms.cancelling.rules?.filter((r) => r.amount === undefined),
    },
    tip: terms.tip && { ...terms.tip, least: undefined, most: undefined, suggestions: undefined },
  };
}

// Terms edits how the business computes, and its rules for whole orders.
export function Terms() {
  const { t } = useTranslation();
  const terms = useQuery({
    queryKey: ["terms"],
    queryFn: () => take(api.GET("/api/desk/terms")),
    refetchOnWindowFocus: false,
  });
  return (
    <main className="desk-page">
      <h1>{t("Money")}</h1>
      <MoneyTabs />
      <Trouble error={lost(terms)} again={() => terms.refetch()} />
      {terms.data && <Editor start={terms.data} />}
    </main>
  );
}

function Editor({ start }: { start: BusinessTerms }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [v, setV] = useState(start);
  const save = useChange({
    send: () => take(api.PUT("/api/desk/terms", { body: v })),
    refreshes: ["products"],
    done: (next) => {
      setV(next);
      queries.setQueryData(["terms"], next);
      if (next.unpriced?.length) window.scrollTo({ top: 0 });
    },
  });
  const set = (part: Partial<BusinessTerms>) => {
    save.forget();
    setV((old) => ({ ...old, ...part }));
  };
  const setTerms = (part: Partial<BusinessTerms["terms"]>) => set({ terms: { ...v.terms, ...part } });
  const { of } = save;
  const places = digits(v.currency);
  const stored = queries.getQueryData<BusinessTerms>(["terms"]) ?? start;
  const choose = (currency: string) =>
    currency === stored.currency
      ? set({ currency, amounts_in: undefined, terms: stored.terms })
      : set({ currency, amounts_in: currency, terms: v.amounts_in ? v.terms : unpriced(v.terms) });
  const dirty = JSON.stringify(v) !== JSON.stringify(stored);
  return (
    <form
      className="stack"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        save.send();
      }}
    >
      <Trouble error={save.problem} />
      {of("terms") && (
        <div className="notice bad" role="alert">
          {of("terms")}
        </div>
      )}
      {v.stale && v.stale.length > 0 && (
        <div className="notice attention">
          {t("These compute in another way until they are published again: {{names}}", {
            names: v.stale.join(", "),
          })}
        </div>
      )}
      {v.unpriced && v.unpriced.length > 0 && v.currency === stored.currency && (
        <div className="notice attention">
          {t("Not sold until their amounts are given in {{currency}}:", { currency: v.currency })}{" "}
          {v.unpriced.map((p, i) => (
            <Fragment key={`${p.sheet}${p.id}`}>
              {i > 0 && ", "}
              <Link to={p.sheet ? `/sheets/${p.id}` : `/products/${p.id}`}>{p.title}</Link>
            </Fragment>
          ))}
        </div>
      )}
      {v.currency !== stored.currency && (
        <div className="notice attention" role="status">
          {t(
            "Products keep their amounts in {{old}} and are not sold until you give them anew; coupons that name an amount stay for orders in {{old}}. The amounts below are empty now. In {{old}} they were: {{amounts}}",
            { old: stored.currency, amounts: (stored.amounts ?? []).join(" · ") || t("none") },
          )}
        </div>
      )}
      <section className="sheet">
        <h2>{t("How prices are computed")}</h2>
        <div className="pair">
          <Labelled id="currency" wording={t("Currency")} fault={of("currency")}>
            <Select
              id="currency"
              showSearch
              value={v.currency}
              onChange={choose}
              options={v.currencies.map((c) => ({ value: c, label: c }))}
            />
          </Labelled>
          <Labelled id="rounding" wording={t("What lies between two amounts")}>
            <Select
              id="rounding"
              value={v.rounding}
              onChange={(rounding) => set({ rounding })}
              options={[
                { value: "", label: t("is rounded up") },
                { value: "half_even", label: t("goes to the even one") },
              ]}
            />
          </Labelled>
          <Labelled id="tax_added" wording={t("Prices")}>
            <Select
              id="tax_added"
              value={v.tax_added}
              onChange={(tax_added) => set({ tax_added })}
              options={[
                { value: false, label: t("contain the tax") },
                { value: true, label: t("are without tax, which is added") },
              ]}
            />
          </Labelled>
          <Labelled
            id="few"
            wording={t("Few are left from")}
            help={t("From so many pieces on the shop tells how many are left; 0 tells nothing.")}
            fault={of("few")}
          >
            <WholeBox id="few" value={v.few} onChange={(few) => set({ few: few ?? 0 })} />
          </Labelled>
          <RoundTo
            id="round_to"
            value={v.terms.round_to}
            change={(round_to) => setTerms({ round_to })}
            currency={v.currency}
          />
        </div>
        <Checkbox checked={v.show_zero} onChange={(e) => set({ show_zero: e.target.checked })}>
          {t("slips keep lines at zero")}
        </Checkbox>
      </section>
      <OrderCharges
        charges={v.terms.charges ?? []}
        change={(charges) => setTerms({ charges: charges.length > 0 ? charges : undefined })}
        places={places}
        currency={v.currency}
      />
      <TipTerms tip={v.terms.tip} change={(tip) => setTerms({ tip })} places={places} currency={v.currency} />
      <FurtherCurrencies terms={v} change={(further) => set({ further })} of={of} />
      <section className="sheet">
        <h2>{t("Business customers")}</h2>
        <Checkbox
          checked={v.terms.business ?? false}
          onChange={(e) =>
            setTerms({
              business: e.target.checked || undefined,
              reverse: e.target.checked ? v.terms.reverse : undefined,
            })
          }
        >
          {t("can order as a business and name it")}
        </Checkbox>
        {v.terms.business && (
          <Checkbox
            checked={v.terms.reverse ?? false}
            onChange={(e) => setTerms({ reverse: e.target.checked || undefined })}
          >
            {t("owe the tax themselves when they are of another country and give a tax id")}
          </Checkbox>
        )}
      </section>
      <section className="sheet">
        <h2>{t("When something is cancelled")}</h2>
        <p className="quiet small">
          {t(
            "For products without rules of their own, and for what belongs to a whole order. Orders keep the rules that they were placed with.",
          )}
        </p>
        <CancelRules
          rules={v.terms.cancelling?.rules ?? []}
          change={(rules) => setTerms({ cancelling: rules.length > 0 ? { rules } : undefined })}
          digits={places}
          currency={v.currency}
        />
      </section>
      <section className="sheet">
        <h2>{t("How customers pay")}</h2>
        <p className="quiet small">
          {t("Products can take less of it. What cannot be paid in one way together is ordered one by one.")}
        </p>
        <div className="pair">
          <Labelled id="ways" wording={t("What you take")} fault={of("ways")}>
            <WaysBox
              id="ways"
              value={v.ways ?? []}
              change={(ways) => set({ ways })}
              all={
                v.account?.iban
                  ? t("cards and bank transfers")
                  : t("cards, and transfers once there is an account")
              }
            />
          </Labelled>
        </div>
      </section>
      <BankAccount account={v.account ?? {}} change={(account) => set({ account })} fault={of("account")} />
      <section className="sheet">
        <h2>{t("Private links to orders")}</h2>
        <div className="pair">
          <Labelled
            id="link_days"
            wording={t("They work for, in days")}
            help={t("Customers can have a new one mailed; 0 lets them work until you end them.")}
            fault={of("link_days")}
          >
            <WholeBox id="link_days" value={v.link_days} onChange={(days) => set({ link_days: days ?? 0 })} />
          </Labelled>
        </div>
      </section>
      <div className="row">
        <Button type="primary" htmlType="submit" loading={save.busy} disabled={!dirty}>
          {t("Keep these terms")}
        </Button>
        {save.done && !dirty && (
          <span className="mark good" role="status">
            ● {t("kept")}
          </span>
        )}
      </div>
    </form>
  );
}

type Account = Schemas["BankAccount"];

type AccountProps = { account: Account; change: (account: Account) => void; fault?: string };

// BankAccount asks where customers transfer money to.
function BankAccount({ account, change, fault }: AccountProps) {
  const { t } = useTranslation();
  const field = (
    key: "holder" | "iban" | "bic" | "note",
    wording: string,
    more: { help?: string; fault?: string } = {},
  ) => (
    <Labelled id={`account-${key}`} wording={wording} {...more}>
      <Input
        id={`account-${key}`}
        value={account[key] ?? ""}
        status={more.fault ? "error" : undefined}
        onChange={(e) => change({ ...account, [key]: e.target.value || undefined })}
      />
    </Labelled>
  );
  return (
    <section className="sheet">
      <h2>{t("Bank account")}</h2>
      <p className="quiet small">
        {t(
          "Customers can order by transfer, and transfer what is still to pay. Each order has a reference with check digits; without an account nobody is told to transfer anything.",
        )}
      </p>
      <div className="pair">
        {field("holder", t("Holder"))}
        {field("iban", t("Account (IBAN)"), { fault })}
        {field("bic", t("Bank (BIC)"), { help: t("Only some banks ask for it.") })}
        {field("note", t("For customers to read"))}
        <Labelled
          id="account-days"
          wording={t("Held for a transfer, in working days")}
          help={t("Places and pieces are held so long; then the customer is reminded.")}
        >
          <WholeBox
            id="account-days"
            value={account.days ?? 5}
            onChange={(days) => change({ ...account, days: days || undefined })}
          />
        </Labelled>
        <Labelled
          id="account-grace"
          wording={t("After the reminder, in working days")}
          help={t("Then all of it is given free, and the customer is told.")}
        >
          <WholeBox
            id="account-grace"
            value={account.grace ?? 3}
            onChange={(grace) => change({ ...account, grace: grace || undefined })}
          />
        </Labelled>
      </div>
    </section>
  );
}
