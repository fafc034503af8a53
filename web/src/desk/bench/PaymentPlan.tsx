import { Button, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { Labelled } from "../../shared/Labelled";
import { MoneyBox, WholeBox } from "../../shared/questions/boxes";
import { useHere } from "../here";
import { PortionBox } from "../PortionBox";
import type { Draft } from "./draft";

type Plan = Schemas["PaymentPlan"];
type Timed = Pick<Plan, "rest" | "days" | "day">;
type Props = { draft: Draft; change: (d: Draft) => void; digits: number };

// PaymentPlan edits when the price is paid, in how many parts, and what is held
// as security.
export function PaymentPlan({ draft, change, digits }: Props) {
  const { t } = useTranslation();
  const plan = draft.payment;
  const put = (payment: Plan | undefined) => change({ ...draft, payment });
  const values = (draft.values ?? []).map((v) => ({ value: v.name, label: v.name }));
  const parts = plan?.parts ?? [];
  const setParts = (next: typeof parts) =>
    plan && put({ ...plan, parts: next.length > 0 ? next : undefined });
  return (
    <section>
      <h3>{t("When it is paid")}</h3>
      <Select
        aria-label={t("When it is paid")}
        value={plan ? "parts" : "now"}
        onChange={(v) =>
          put(v === "parts" ? { percent: "30", rest: draft.booking ? "booking" : "handover" } : undefined)
        }
        options={[
          { value: "now", label: t("all of it when ordering") },
          { value: "parts", label: t("in parts") },
        ]}
      />
      {plan && (
        <ol className="payment-parts">
          <li>
            {t("when ordering")}
            {values.length > 0 && (
              <Select
                aria-label={t("How the part now is reckoned")}
                value={plan.value ?? ""}
                onChange={(value) =>
                  put(
                    value
                      ? { ...plan, value, percent: undefined, amount: undefined }
                      : { ...plan, value: undefined, percent: "30" },
                  )
                }
                options={[
                  { value: "", label: t("a portion") },
                  ...values.map((v) => ({ ...v, label: t("as “{{name}}” says", { name: v.label }) })),
                ]}
              />
            )}
            {!plan.value && (
              <PortionBox
                id="plan-now"
                value={plan}
                change={put}
                digits={digits}
                currency={draft.currency}
                amount={t("an amount for each now")}
                percent={t("per cent now")}
                fresh={{ amount: 1000, percent: "30" }}
                name={(part) => t("{{part}} of the part now", { part })}
              />
            )}
          </li>
          {parts.map((p, i) => {
            const n = i + 2;
            return (
              // biome-ignore lint/suspicious/noArrayIndexKey: a part is known by its place
              <li key={i}>
                <PortionBox
                  id={`plan-part-${n}`}
                  value={p}
                  change={(next) => setParts(parts.with(i, next))}
                  digits={digits}
                  currency={draft.currency}
                  amount={t("an amount for each")}
                  percent={t("per cent")}
                  fresh={{ amount: 1000, percent: "30" }}
                  name={(part) => t("{{part}} of part {{n}}", { part, n })}
                />
                <When
                  id={`plan-part-${n}`}
                  name={t("When part {{n}} is paid", { n })}
                  value={p}
                  change={(time) => setParts(parts.with(i, { ...p, ...time }))}
                />
                <Button
                  size="small"
                  aria-label={t("Take part {{n}} away", { n })}
                  onClick={() => setParts(parts.toSpliced(i, 1))}
                >
                  ×
                </Button>
              </li>
            );
          })}
          <li>
            {t("the rest")}
            <When
              id="plan"
              name={t("When the rest is paid")}
              value={plan}
              change={(time) => put({ ...plan, ...time })}
            />
          </li>
        </ol>
      )}
      {plan && (
        <Button
          size="small"
          onClick={() => setParts([...parts, { percent: "30", rest: "work" }])}
          disabled={parts.length >= 20}
        >
          {t("Add a part in between")}
        </Button>
      )}
      <Labelled
        id="deposit"
        wording={draft.deposit_by ? t("Security deposit") : t("Security deposit for each")}
        help={t("Held on the card and given back; no part of the price.")}
      >
        <span className="row">
          {values.length > 0 && (
            <Select
              aria-label={t("How the deposit is reckoned")}
              value={draft.deposit_by ?? ""}
              onChange={(by) =>
                change({ ...draft, deposit_by: by || undefined, deposit: by ? undefined : draft.deposit })
              }
              options={[
                { value: "", label: t("an amount") },
                ...values.map((v) => ({ ...v, label: t("as “{{name}}” says", { name: v.label }) })),
              ]}
            />
          )}
          {!draft.deposit_by && (
            <span className="charge-box">
              <MoneyBox
                id="deposit"
                digits={digits}
                prefix={draft.currency}
                value={draft.deposit}
                onChange={(deposit) => change({ ...draft, deposit: deposit || undefined })}
              />
            </span>
          )}
        </span>
      </Labelled>
    </section>
  );
}

type WhenProps = { id: string; name: string; value: Timed; change: (time: Timed) => void };

// When asks when a part is paid.
function When({ id, name, value, change }: WhenProps) {
  const { t } = useTranslation();
  const { today } = useHere();
  const counted = value.rest === "order" || value.rest === "booking";
  return (
    <span className="row">
      <Select
        aria-label={name}
        value={value.rest}
        onChange={(rest) =>
          change({
            rest,
            days: rest === "order" || rest === "booking" ? (value.days ?? 14) : undefined,
            day: rest === "day" ? (value.day ?? today) : undefined,
          })
        }
        options={[
          { value: "order", label: t("after the order") },
          { value: "booking", label: t("before the booking") },
          { value: "work", label: t("before work begins") },
          { value: "handover", label: t("at handover") },
          { value: "day", label: t("on a day") },
        ]}
      />
      {counted && (
        <label className="row" htmlFor={`${id}-days`}>
          <span className="charge-box narrow">
            <WholeBox
              id={`${id}-days`}
              value={value.days}
              onChange={(days) => change({ rest: value.rest, days: days || undefined })}
            />
          </span>
          {t("days")}
        </label>
      )}
      {value.rest === "day" && (
        <Input
          type="date"
          className="plan-day"
          aria-label={t("{{name}}: the day", { name })}
          value={value.day}
          onChange={(e) => change({ rest: "day", day: e.target.value })}
        />
      )}
    </span>
  );
}
