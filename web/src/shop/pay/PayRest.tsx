import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { money } from "../../shared/format";
import { save } from "../../shared/kept";
import { Trouble } from "../../shared/Trouble";
import { payingKey } from "../keep";
import { usePayment } from "./usePayment";
import { Open, Refused, Silent } from "./Waiting";

type Props = { order: Schemas["OrderPage"]; link: string };

// PayRest takes the payment of what of an order is still open.
export function PayRest({ order, link }: Props) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const { open, slip } = order.money;
  const amount = money(open, slip.currency);
  const path = { params: { path: { link } } };
  const { payment, problem, busy, attempt, run, begin } = usePayment({
    look: async () => (await take(api.GET("/api/shop/orders/{link}", path))).payment,
    onSettled: () => queries.invalidateQueries({ queryKey: ["order", link] }),
  });
  if (payment?.state === "settled" || open === 0) {
    return payment?.state === "settled" ? (
      <div className="notice good" role="status">
        {t("Thank you. All of it is paid.")}
      </div>
    ) : null;
  }
  const leave = () => run(() => take(api.POST("/api/shop/orders/{link}/leave", path)));
  const later = slip.due?.find((d) => d.day !== "");
  return (
    <section className="sheet stack" aria-label={t("Still to pay")}>
      <h2>{t("Still to pay: {{amount}}", { amount })}</h2>
      {later && <p className="quiet small">{t("Due {{when}}", { when: later.words })}</p>}
      <Trouble error={problem} />
      {payment?.state === "asked" && <Silent />}
      {payment?.state === "confirm" && <Open page={payment.page} total={amount} busy={busy} leave={leave} />}
      {payment?.state !== "asked" && payment?.state !== "confirm" && (
        <form
          className="stack"
          noValidate
          onSubmit={(e) => {
            e.preventDefault();
            save(payingKey, link);
            begin(() => take(api.POST("/api/shop/orders/{link}/pay", { ...path, body: { attempt } })));
          }}
        >
          {payment?.state === "refused" && <Refused reason={payment.reason} />}
          <Button type="primary" htmlType="submit" loading={busy}>
            {t("Pay {{total}}", { total: amount })}
          </Button>
        </form>
      )}
    </section>
  );
}
