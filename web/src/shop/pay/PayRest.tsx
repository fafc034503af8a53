import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { lazy, Suspense } from "react";
import { useTranslation } from "react-i18next";
import { useSearchParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { money } from "../../shared/format";
import { save } from "../../shared/kept";
import { Trouble } from "../../shared/Trouble";
import { payingKey } from "../keep";
import { usePayment } from "./usePayment";
import { Open, Refused, Silent } from "./Waiting";

type Props = { order: Schemas["OrderPage"]; link: string };

// The code to scan is loaded by those who have something to pay.
const Transfer = lazy(() => import("./Transfer").then((m) => ({ default: m.Transfer })));

const waits = (p: Schemas["Payment"]) => p.state === "asked" || p.state === "confirm";

// PayRest takes the payment of what of an order is still open.
export function PayRest({ order, link }: Props) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  // What was paid is said to who comes back from paying it.
  const led = useSearchParams()[0].has("back");
  const { open, due_now, slip } = order.money;
  const amount = money(open, slip.currency);
  const path = { params: { path: { link } } };
  const { payment, problem, busy, attempt, run, begin } = usePayment({
    look: async () => (await take(api.GET("/api/shop/orders/{link}", path))).payment,
    first: order.payment && (led || waits(order.payment)) ? order.payment : null,
    onSettled: () => queries.invalidateQueries({ queryKey: ["order", link] }),
  });
  const settled = payment?.state === "settled";
  if (open === 0) {
    return settled ? (
      <div className="notice good" role="status">
        {t("Thank you. All of it is paid.")}
      </div>
    ) : null;
  }
  const leave = () => run(() => take(api.POST("/api/shop/orders/{link}/leave", path)));
  const parts = order.money.parts;
  const some = due_now < open;
  const begun = payment !== undefined && waits(payment);
  const pay = (all: boolean) => {
    save(payingKey, link);
    begin(() => take(api.POST("/api/shop/orders/{link}/pay", { ...path, body: { attempt, all } })));
  };
  return (
    <section className="sheet stack" aria-label={t("Still to pay")}>
      {settled && (
        <div className="notice good" role="status">
          {t("Thank you. This part is paid.")}
        </div>
      )}
      <h2>{t("Still to pay: {{amount}}", { amount })}</h2>
      {(parts.length > 1 || parts[0]?.due !== "") && (
        <div>
          {parts.map((p) => (
            <div className="slip-line slip-due" key={p.due}>
              <span>
                {p.words} {p.overdue && <span className="mark bad">▲ {t("overdue")}</span>}
              </span>
              <i aria-hidden="true" />
              <span className="num">{money(p.amount, slip.currency)}</span>
            </div>
          ))}
        </div>
      )}
      <Trouble error={problem} />
      {payment?.state === "asked" && <Silent />}
      {payment?.state === "confirm" && (
        <Open
          page={payment.page}
          total={money(payment.amount ?? open, slip.currency)}
          busy={busy}
          leave={leave}
        />
      )}
      {!begun && payment?.state === "refused" && <Refused reason={payment.reason} />}
      {!begun && (
        <div className="row">
          <Button type="primary" size="large" loading={busy} onClick={() => pay(!some)}>
            {t("Pay {{total}}", { total: money(due_now, slip.currency) })}
          </Button>
          {some && (
            <Button size="large" disabled={busy} onClick={() => pay(true)}>
              {t("Pay all of it: {{total}}", { total: amount })}
            </Button>
          )}
        </div>
      )}
      {!begun && order.transfer && (
        <Suspense fallback={<p className="quiet small">{t("Or by bank transfer")}</p>}>
          <Transfer transfer={order.transfer} currency={slip.currency} />
        </Suspense>
      )}
    </section>
  );
}
