import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { money } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { BankAsks, BankSilent, Refused } from "./Bank";
import { CardForm, noCard, Simulated } from "./CardForm";
import { usePayment } from "./usePayment";

type Props = { order: Schemas["OrderPage"]; link: string };

// PayRest takes the payment of what of an order is still open.
export function PayRest({ order, link }: Props) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [card, setCard] = useState(noCard);
  const { open, slip, state } = order.money;
  const amount = money(open, slip.currency);
  const path = { params: { path: { link } } };
  const { payment, problem, busy, attempt, run } = usePayment({
    look: async () => {
      const { money: m } = await take(api.GET("/api/shop/orders/{link}", path));
      if (m.asked) return { state: m.asked };
      return m.open === 0 && open > 0
        ? { state: "settled" }
        : { state: "refused", reason: t("Nothing was paid.") };
    },
    onSettled: () => queries.invalidateQueries({ queryKey: ["order", link] }),
  });
  if (payment?.state === "settled" || open === 0 || state === "cancelled") {
    return payment?.state === "settled" ? (
      <div className="notice good" role="status">
        {t("Thank you. All of it is paid.")}
      </div>
    ) : null;
  }
  const confirm = (approve: boolean) =>
    run(() => take(api.POST("/api/shop/orders/{link}/confirm", { ...path, body: { approve } })));
  const later = slip.due?.find((d) => d.day !== "");
  return (
    <section className="sheet stack" aria-label={t("Still to pay")}>
      <h2>{t("Still to pay: {{amount}}", { amount })}</h2>
      {later && <p className="quiet small">{t("Due {{when}}", { when: later.words })}</p>}
      <Trouble error={problem} />
      {payment?.state === "asked" && <BankSilent />}
      {payment?.state === "confirm" && <BankAsks total={amount} busy={busy} confirm={confirm} />}
      {payment?.state !== "asked" && payment?.state !== "confirm" && (
        <details open={payment !== undefined || undefined}>
          <summary>{t("Pay it now")}</summary>
          <form
            className="stack"
            noValidate
            onSubmit={(e) => {
              e.preventDefault();
              run(() =>
                take(api.POST("/api/shop/orders/{link}/pay", { ...path, body: { ...card, attempt } })),
              );
            }}
          >
            {payment?.state === "refused" && <Refused reason={payment.reason} />}
            <CardForm card={card} setCard={setCard} problem={problem} />
            <Button type="primary" htmlType="submit" loading={busy}>
              {t("Pay {{total}}", { total: amount })}
            </Button>
            <Simulated />
          </form>
        </details>
      )}
    </section>
  );
}
