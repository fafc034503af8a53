import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Modal } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../shared/api/client";
import { money } from "../shared/format";
import { Slip } from "../shared/slip/Slip";
import { Trouble } from "../shared/Trouble";

// OrderMoney shows the money of a whole order: its slip where it tells more
// than that of the line, what was received, is open, held and given back.
export function OrderMoney({ d }: { d: Schemas["Docket"] }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [cancelling, setCancelling] = useState(false);
  const [how, setHow] = useState({ refund: true, restock: true });
  const settle = useMutation({
    mutationFn: (action: "cancel" | "release" | "received") =>
      take(
        api.POST("/api/desk/orders/{number}/{action}", {
          params: { path: { number: d.number, action } },
          body: how,
        }),
      ),
    onSuccess: () => {
      setCancelling(false);
      for (const key of ["docket", "orders", "money", "stock"])
        queries.invalidateQueries({ queryKey: [key] });
    },
  });
  const m = d.money;
  const amount = (n: number) => money(n, d.currency);
  const more =
    d.siblings.length > 0 ||
    m.slip.lines.some((l) => ["order", "coupon", "tip", "reverse"].includes(l.part ?? ""));
  return (
    <section className="order-money" aria-label={t("The whole order")}>
      {more && (
        <Slip
          slip={m.slip}
          title={t("The whole order")}
          wording={(row) => m.wordings?.[`${row.of} ${row.question}`]}
        />
      )}
      {settle.error && !cancelling && <Trouble error={settle.error} />}
      <dl className="small">
        {(m.open > 0 || m.refunded > 0 || m.held > 0) && (
          <div className="row">
            <dt className="grow">{t("Received")}</dt>
            <dd className="num">{amount(m.received)}</dd>
          </div>
        )}
        {m.open > 0 && (
          <div className="row">
            <dt className="grow">
              {t("Open")}{" "}
              <Button size="small" loading={settle.isPending} onClick={() => settle.mutate("received")}>
                {t("It came in")}
              </Button>
            </dt>
            <dd className="num">{amount(m.open)}</dd>
          </div>
        )}
        {m.held > 0 && (
          <div className="row">
            <dt className="grow">
              {t("Held as security")}{" "}
              <Button size="small" loading={settle.isPending} onClick={() => settle.mutate("release")}>
                {t("Give it back")}
              </Button>
            </dt>
            <dd className="num">{amount(m.held)}</dd>
          </div>
        )}
        {m.refunded > 0 && (
          <div className="row">
            <dt className="grow">{t("Given back")}</dt>
            <dd className="num">{amount(m.refunded)}</dd>
          </div>
        )}
        {d.article && (
          <div className="row">
            <dt className="grow">{t("Article code")}</dt>
            <dd className="code">{d.article}</dd>
          </div>
        )}
        {d.cost !== undefined && (
          <div className="row">
            <dt className="grow">{t("Cost")}</dt>
            <dd className="num">{amount(d.cost)}</dd>
          </div>
        )}
        {d.margin !== undefined && (
          <div className="row">
            <dt className="grow">{t("Margin, without tax")}</dt>
            <dd className="num">{amount(d.margin)}</dd>
          </div>
        )}
        {m.buyer?.company && (
          <div className="row">
            <dt className="grow">{t("Ordered for")}</dt>
            <dd>
              {m.buyer.company} {m.buyer.tax_id}
            </dd>
          </div>
        )}
        {m.group && (
          <div className="row">
            <dt className="grow">{t("Customer group")}</dt>
            <dd>{m.group}</dd>
          </div>
        )}
      </dl>
      {m.state === "cancelled" ? (
        <span className="mark plain">■ {t("cancelled")}</span>
      ) : (
        <Button size="small" onClick={() => setCancelling(true)}>
          {t("Cancel the order …")}
        </Button>
      )}
      <Modal
        open={cancelling}
        title={t("Cancel order {{number}} of {{customer}}?", { number: d.number, customer: d.customer })}
        okText={t("Cancel the order")}
        okButtonProps={{ danger: true, loading: settle.isPending }}
        cancelText={t("Leave it as it was")}
        onOk={() => settle.mutate("cancel")}
        onCancel={() => setCancelling(false)}
      >
        {settle.error && <Trouble error={settle.error} />}
        <p>
          {t(
            "Its unfinished work is taken away, its booked places are given free, and its briefs are closed. This cannot be undone.",
          )}
        </p>
        <p>
          <Checkbox checked={how.refund} onChange={(e) => setHow({ ...how, refund: e.target.checked })}>
            {t("give back {{amount}}", { amount: amount(m.received - m.refunded + m.held) })}
          </Checkbox>
        </p>
        <p>
          <Checkbox checked={how.restock} onChange={(e) => setHow({ ...how, restock: e.target.checked })}>
            {t("put what was counted back on stock")}
          </Checkbox>
        </p>
      </Modal>
    </section>
  );
}
