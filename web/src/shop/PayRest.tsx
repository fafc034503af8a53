import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../shared/api/client";
import { money } from "../shared/format";
import { randomName } from "../shared/name";
import { Trouble } from "../shared/Trouble";
import { CardForm, noCard, Simulated } from "./CardForm";

type Props = { order: Schemas["OrderPage"]; link: string };

// PayRest takes the payment of what of an order is still open.
export function PayRest({ order, link }: Props) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [card, setCard] = useState(noCard);
  const [attempt, setAttempt] = useState(randomName);
  const [payment, setPayment] = useState<Schemas["Payment"]>();
  const [problem, setProblem] = useState<unknown>();
  const [busy, setBusy] = useState(false);
  const { open, slip } = order.money;
  const amount = money(open, slip.currency);
  const run = async (call: () => Promise<Schemas["Payment"]>) => {
    if (busy) return;
    setBusy(true);
    setProblem(undefined);
    try {
      const p = await call();
      setPayment(p);
      if (p.state === "declined") setAttempt(randomName());
      if (p.state === "paid") queries.invalidateQueries({ queryKey: ["order", link] });
    } catch (e) {
      setProblem(e);
    } finally {
      setBusy(false);
    }
  };
  const path = { params: { path: { link } } };
  if (payment?.state === "paid" || open === 0) {
    return payment?.state === "paid" ? (
      <div className="notice good" role="status">
        {t("Thank you. All of it is paid.")}
      </div>
    ) : null;
  }
  const later = slip.due?.find((d) => d.day !== "");
  return (
    <section className="sheet stack" aria-label={t("Still to pay")}>
      <h2>{t("Still to pay: {{amount}}", { amount })}</h2>
      {later && <p className="quiet small">{t("Due {{when}}", { when: later.words })}</p>}
      {problem !== undefined && <Trouble error={problem} />}
      {payment?.state === "confirm" ? (
        <div className="row">
          <Button
            type="primary"
            loading={busy}
            onClick={() =>
              run(() =>
                take(api.POST("/api/shop/orders/{link}/confirm", { ...path, body: { approve: true } })),
              )
            }
          >
            {t("Yes, pay {{total}}", { total: amount })}
          </Button>
          <Button
            disabled={busy}
            onClick={() =>
              run(() =>
                take(api.POST("/api/shop/orders/{link}/confirm", { ...path, body: { approve: false } })),
              )
            }
          >
            {t("No, do not pay")}
          </Button>
        </div>
      ) : (
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
            {payment?.state === "declined" && (
              <div className="notice bad" role="alert">
                {payment.reason}
              </div>
            )}
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
