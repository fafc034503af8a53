import { useQuery } from "@tanstack/react-query";
import { Button, Checkbox, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { digits as digitsOf } from "../../shared/currency";
import { money } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { DecimalBox, MoneyBox, WholeBox } from "../../shared/questions/boxes";
import { CancelRules } from "../CancelRules";
import { WaysBox } from "../WaysBox";
import { Bands } from "./Bands";
import { useMeasures } from "./ChargeEditor";
import { Charges } from "./Charges";
import type { Draft, Question } from "./draft";
import { Findings } from "./Findings";
import { FormulaField } from "./FormulaField";
import { LimitBoxes } from "./LimitBoxes";
import { PaymentPlan } from "./PaymentPlan";
import { PriceLists } from "./PriceLists";
import { SlipOrder } from "./SlipOrder";
import { Specials, useGroups } from "./Specials";
import { useTrial } from "./trial";

type Props = {
  id: number;
  draft: Draft;
  change: (draft: Draft) => void;
  linked: Question[];
  findings: Schemas["Finding"][];
};

// What of the product check belongs here.
export const priceKeys = [
  "price",
  "prices",
  "bands",
  "limits",
  "measure",
  "payment",
  "cancelling",
  "tax",
  "cost",
  "deposit",
  "add_ons",
  "groups",
  "values",
  "article",
  "stock",
  "voucher",
  "price_lists",
];

// PriceEditor edits what the product costs by itself, how it is paid, what it
// is sold with, and who can buy it.
export function PriceEditor({ id, draft, change, linked, findings }: Props) {
  const { t } = useTranslation();
  const names = useMeasures();
  const trial = useTrial();
  const set = (part: Partial<Draft>) => change({ ...draft, ...part });
  const digits = digitsOf(draft.currency);
  const measures = trial?.measures ?? [];
  const range = trial?.range;
  return (
    <>
      <h2>{t("Price and payment")}</h2>
      <Findings findings={findings.filter((f) => f.part === "product" && priceKeys.includes(f.key ?? ""))} />
      {range && (
        <p className="quiet small" role="status">
          {rangeWords(t, range, draft.currency)}
        </p>
      )}
      <div className="pair">
        <Labelled
          id="price"
          wording={draft.tax_added ? t("Price of one, without tax") : t("Price of one, tax included")}
          help={t("Zero when its answers make the price.")}
        >
          <MoneyBox
            id="price"
            digits={digits}
            prefix={draft.currency}
            value={draft.price}
            onChange={(price) => set({ price: price ?? 0 })}
          />
        </Labelled>
        <Labelled
          id="measure"
          wording={t("The price is for")}
          help={t("Counted from a booking, a span of days, or a number that counts as it.")}
        >
          <Select
            id="measure"
            value={draft.measure ?? ""}
            onChange={(measure) => set({ measure: measure || undefined })}
            options={[
              { value: "", label: t("one of it") },
              ...(["person", "hour", "day", "night"] as const).map((m) => ({
                value: m,
                label: t("each {{measure}}", { measure: names[m] }),
                disabled: !measures.includes(m) && draft.measure !== m,
              })),
            ]}
          />
        </Labelled>
        <Labelled id="base_label" wording={t("On the slip as")}>
          <Input
            id="base_label"
            placeholder={draft.title}
            value={draft.base_label ?? ""}
            onChange={(e) => set({ base_label: e.target.value || undefined })}
          />
        </Labelled>
        <Labelled
          id="tax"
          wording={draft.tax_added ? t("Tax on it") : t("Tax in it")}
          help={draft.tax_added ? t("The rate that is added.") : t("The rate that the price contains.")}
        >
          <DecimalBox id="tax" suffix="%" value={draft.tax} onChange={(tax) => set({ tax: tax ?? "0" })} />
        </Labelled>
        {Number(draft.tax) === 0 && (
          <Labelled id="exempt" wording={t("Why no tax is taken")}>
            <Input
              id="exempt"
              value={draft.exempt ?? ""}
              onChange={(e) => set({ exempt: e.target.value || undefined })}
            />
          </Labelled>
        )}
      </div>
      <section>
        <h3>{t("Other prices")}</h3>
        <p className="quiet small">
          {t("For a group, some days or hours, weekends, many units, or the last places: dearer or cheaper.")}
        </p>
        <Specials
          id="price"
          prices={draft.prices ?? []}
          combine={draft.combine}
          change={(prices, combine) => set({ prices, combine })}
          digits={digits}
          currency={draft.currency}
        />
      </section>
      <section>
        <h3>{t("From a number on")}</h3>
        <p className="quiet small">
          {draft.measure
            ? t("Another price from so many of what it is for: all of them, or each part at its own.")
            : t("Another price from so many units: all of them, or each part at its own.")}
        </p>
        <Bands
          id="price"
          of={t("the price")}
          bands={draft.bands ?? []}
          graduated={draft.graduated}
          amount={draft.price}
          digits={digits}
          currency={draft.currency}
          change={(bands, graduated) => set({ bands, graduated })}
        />
      </section>
      <Charges draft={draft} change={change} linked={linked} digits={digits} findings={findings} />
      <SlipOrder draft={draft} change={change} linked={linked} order={trial?.order} />
      <LimitBoxes draft={draft} change={change} digits={digits} />
      <Values draft={draft} change={change} findings={findings} />
      <PaymentPlan draft={draft} change={change} digits={digits} />
      <Cancelling draft={draft} change={change} digits={digits} />
      <section>
        <h3>{t("When an answer changes after payment")}</h3>
        <Checkbox
          checked={draft.reprices ?? false}
          onChange={(e) => set({ reprices: e.target.checked || undefined })}
        >
          {t("it may change the price: customers see the difference first, and agree to it")}
        </Checkbox>
      </section>
      <section>
        <h3>{t("How it can be paid")}</h3>
        <WaysBox
          id="ways"
          value={draft.ways ?? []}
          change={(ways) => set({ ways: ways.length > 0 ? ways : undefined })}
          all={t("as the business takes it")}
        />
      </section>
      <AddOns id={id} draft={draft} change={change} />
      <VoucherBox draft={draft} change={change} />
      <PriceLists draft={draft} change={change} />
      <section>
        <h3>{t("For your own accounts")}</h3>
        <div className="pair">
          <Labelled id="article" wording={t("Article code")} help={t("Choices add theirs behind it.")}>
            <Input
              id="article"
              className="code"
              value={draft.article ?? ""}
              onChange={(e) => set({ article: e.target.value || undefined })}
            />
          </Labelled>
          <Labelled id="cost" wording={t("Cost of one")} help={t("Seen at the desk only, for the margin.")}>
            <MoneyBox
              id="cost"
              digits={digits}
              prefix={draft.currency}
              value={draft.cost}
              onChange={(cost) => set({ cost })}
            />
          </Labelled>
        </div>
        {trial && (trial.article !== "" || trial.margin !== undefined) && (
          <p className="quiet small num">
            {trial.article && t("article {{code}}", { code: trial.article })}
            {trial.cost !== undefined && trial.margin !== undefined && (
              <>
                {" · "}
                {t("cost {{cost}}, margin {{margin}}", {
                  cost: money(trial.cost, draft.currency),
                  margin: money(trial.margin, draft.currency),
                })}
              </>
            )}
          </p>
        )}
      </section>
    </>
  );
}

// rangeWords says what one can cost.
export function rangeWords(
  t: ReturnType<typeof useTranslation>["t"],
  range: Schemas["PriceRange"],
  currency: string,
) {
  const least = money(range.least, currency);
  if (range.least === range.most) return t("One costs {{least}}.", { least });
  if (range.unlimited) return t("One costs {{least}} or more, without a limit.", { least });
  const most = money(range.most, currency);
  return range.exact
    ? t("One costs {{least}} to {{most}}, whatever is answered.", { least, most })
    : t("One costs at least {{least}} and at most {{most}}; these are bounds.", { least, most });
}

// Values edits named intermediate values, which formulas can read.
export function Values({
  draft,
  change,
  findings,
}: {
  draft: Draft;
  change: (d: Draft) => void;
  findings: Schemas["Finding"][];
}) {
  const { t } = useTranslation();
  const values = draft.values ?? [];
  const put = (next: typeof values) => change({ ...draft, values: next.length > 0 ? next : undefined });
  return (
    <section>
      <h3>{t("Named values for formulas")}</h3>
      {values.map((v, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a value is known by its place
        <div key={i}>
          <div className="row named-value">
            <Input
              className="code special-label"
              aria-label={t("Name of value {{n}}", { n: i + 1 })}
              value={v.name}
              onChange={(e) => put(values.with(i, { ...v, name: e.target.value }))}
            />
            <span>=</span>
            <div className="grow">
              <FormulaField
                id={`value-${i}`}
                label={t("Formula of value {{n}}", { n: i + 1 })}
                value={v.formula}
                onChange={(formula) => put(values.with(i, { ...v, formula }))}
                otherwise={v.otherwise}
                setOtherwise={(otherwise) => put(values.with(i, { ...v, otherwise }))}
                part="value"
                n={i + 1}
                findings={findings}
              />
            </div>
            <Button
              size="small"
              aria-label={t("Take value {{n}} away", { n: i + 1 })}
              onClick={() => put(values.toSpliced(i, 1))}
            >
              ×
            </Button>
          </div>
          <div className="row named-value named-words">
            <Input
              className="special-label"
              aria-label={t("Row on the slip for value {{n}}", { n: i + 1 })}
              placeholder={t("row on the slip: Area, …")}
              value={v.title ?? ""}
              maxLength={60}
              onChange={(e) => put(values.with(i, { ...v, title: e.target.value || undefined }))}
            />
            <Input
              className="special-label"
              aria-label={t("Behind its number on the slip, value {{n}}", { n: i + 1 })}
              placeholder={t("unit: m², …")}
              value={v.label ?? ""}
              maxLength={30}
              onChange={(e) => put(values.with(i, { ...v, label: e.target.value || undefined }))}
            />
          </div>
          <Findings findings={findings.filter((f) => f.part === "value" && f.key === String(i + 1))} />
        </div>
      ))}
      <Button
        size="small"
        onClick={() => put([...values, { name: `value_${values.length + 1}`, formula: "quantity" }])}
      >
        {t("Add a value")}
      </Button>
    </section>
  );
}

function Cancelling({ draft, change, digits }: { draft: Draft; change: (d: Draft) => void; digits: number }) {
  const { t } = useTranslation();
  const own = draft.cancelling;
  return (
    <section>
      <h3>{t("When it is cancelled")}</h3>
      <Select
        aria-label={t("When it is cancelled")}
        value={own ? "own" : "business"}
        onChange={(v) =>
          change({
            ...draft,
            cancelling: v === "own" ? { rules: [{ from: "placing", count: 14, percent: "100" }] } : undefined,
          })
        }
        options={[
          { value: "business", label: t("as the terms of the business say") },
          { value: "own", label: t("by rules of its own") },
        ]}
      />
      {own && (
        <CancelRules
          rules={own.rules ?? []}
          change={(rules) => change({ ...draft, cancelling: { rules } })}
          digits={digits}
          currency={draft.currency}
        />
      )}
    </section>
  );
}

// VoucherBox makes the product a voucher, and says for how long it is good and
// when its tax is taken.
function VoucherBox({ draft, change }: { draft: Draft; change: (d: Draft) => void }) {
  const { t } = useTranslation();
  const v = draft.voucher;
  const set = (part: Partial<NonNullable<Draft["voucher"]>>) =>
    change({ ...draft, voucher: { ...v, ...part } });
  return (
    <section>
      <h3>{t("Voucher")}</h3>
      <Checkbox
        checked={v !== undefined}
        onChange={(e) => change({ ...draft, voucher: e.target.checked ? { months: 36 } : undefined })}
      >
        {t("It is a voucher: each one is a code that pays here")}
      </Checkbox>
      {v && (
        <>
          <p className="quiet small">
            {t(
              "It is worth what its own price comes to; what is charged beside it is not part of it. Write {{field}} into a step, and who does the work reads the code.",
              { field: "{{voucher_codes}}" },
            )}
          </p>
          <div className="pair">
            <Labelled id="voucher-months" wording={t("Good for")} help={t("Zero is for ever.")}>
              <WholeBox
                id="voucher-months"
                suffix={t("months")}
                value={v.months ?? 0}
                onChange={(months) => set({ months: months || undefined })}
              />
            </Labelled>
            <Labelled
              id="voucher-tax"
              wording={t("Its tax is taken")}
              help={
                v.tax === "when_sold"
                  ? t("Right when all that it can buy has one rate. It then pays only that.")
                  : t("Right when it can buy what has different rates.")
              }
            >
              <Select
                id="voucher-tax"
                value={v.tax ?? ""}
                onChange={(tax) => set({ tax: tax || undefined })}
                options={[
                  { value: "", label: t("when it is used") },
                  { value: "when_sold", label: t("when it is sold") },
                ]}
              />
            </Labelled>
          </div>
        </>
      )}
    </section>
  );
}

function AddOns({ id, draft, change }: { id: number; draft: Draft; change: (d: Draft) => void }) {
  const { t } = useTranslation();
  const products = useQuery({ queryKey: ["products"], queryFn: () => take(api.GET("/api/desk/products")) });
  const groups = useGroups() ?? [];
  const list = draft.add_ons ?? [];
  const put = (add_ons: typeof list) =>
    change({ ...draft, add_ons: add_ons.length > 0 ? add_ons : undefined });
  const others = (products.data ?? []).filter((p) => p.id !== id && !list.some((a) => a.product === p.id));
  const title = (product: number) => products.data?.find((p) => p.id === product)?.title ?? `${product}`;
  return (
    <section>
      <h3>{t("Offered with it")}</h3>
      <p className="quiet small">
        {t(
          "Each is a line of its own with its own questions. Without a price of its own, this product is an order form for them.",
        )}
      </p>
      {list.map((a, i) => (
        <div key={a.product} className="row">
          <span className="grow">{title(a.product)}</span>
          <label className="row small" htmlFor={`addon-${a.product}`}>
            {t("up to")}
            <span className="charge-box narrow">
              <WholeBox
                id={`addon-${a.product}`}
                value={a.most ?? 1}
                onChange={(most) => put(list.with(i, { ...a, most }))}
              />
            </span>
          </label>
          <Button
            size="small"
            aria-label={t("Take {{what}} away", { what: title(a.product) })}
            onClick={() => put(list.toSpliced(i, 1))}
          >
            ×
          </Button>
        </div>
      ))}
      {list.length > 1 && (
        <div className="pair">
          <Labelled
            id="bundle"
            wording={t("One of each together costs")}
            help={t("Instead of the sum of their prices; what their answers add comes on top.")}
          >
            <MoneyBox
              id="bundle"
              digits={digitsOf(draft.currency)}
              prefix={draft.currency}
              value={draft.bundle?.price}
              onChange={(price) =>
                change({ ...draft, bundle: price === undefined ? undefined : { ...draft.bundle, price } })
              }
            />
          </Labelled>
          {draft.bundle && (
            <Labelled id="bundle_label" wording={t("On the slip as")}>
              <Input
                id="bundle_label"
                placeholder={t("Together")}
                value={draft.bundle.label ?? ""}
                onChange={(e) =>
                  draft.bundle &&
                  change({ ...draft, bundle: { ...draft.bundle, label: e.target.value || undefined } })
                }
              />
            </Labelled>
          )}
        </div>
      )}
      <div className="row">
        <Select
          aria-label={t("Add a product that is offered with it")}
          className="add-from"
          value={null}
          placeholder={t("add a product")}
          onChange={(product: number | null) => product !== null && put([...list, { product }])}
          options={others.map((p) => ({ value: p.id, label: p.title }))}
        />
        <Checkbox
          checked={draft.add_on_only ?? false}
          onChange={(e) => change({ ...draft, add_on_only: e.target.checked || undefined })}
        >
          {t("itself only sold with others")}
        </Checkbox>
      </div>
      <Labelled id="groups" wording={t("Who can buy it")} help={t("Empty is everybody.")}>
        <Select
          id="groups"
          mode="multiple"
          value={draft.groups ?? []}
          onChange={(v: string[]) => change({ ...draft, groups: v.length > 0 ? v : undefined })}
          options={groups.map((g) => ({ value: g.key, label: g.name }))}
        />
      </Labelled>
    </section>
  );
}
