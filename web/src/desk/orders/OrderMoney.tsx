import { Button, Checkbox, Modal } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { money } from "../../shared/format";
import { Slip } from "../../shared/slip/Slip";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { Ledger, useDueWords } from "./Ledger";

// OrderMoney shows the money of a whole order: its slip where it tells more
// than that of the line, what was received, is open, held and given back.
export function OrderMoney({ d }: { d: Schemas["Docket"] }) {
  const { t } = useTranslation();
  const [cancelling, setCancelling] = useState(false);
  const [told, setTold] = useState(false);
  const [how, setHow] = useState({ refund: true, restock: true });
  const move = useChange({
    send: (action: "cancel" | "release" | "return" | "receive") =>
      take(
        api.POST("/api/desk/orders/{number}/{action}", {
          params: { path: { number: d.number, action } },
          body: how,
        }),
      ),
    refreshes: ["docket", "orders", "money", "stock"],
    done: () => setCancelling(false),
  });
  const m = d.money;
  const amount = (n: number) => money(n, d.currency);
  const dueWords = useDueWords();
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
      {!cancelling && <Trouble error={move.problem} />}
      <dl className="small">
        {m.ledger.length > 0 && (
          <div className="row">
            <dt className="grow">
              {t("Paid")}{" "}
              <Button size="small" type="link" aria-expanded={told} onClick={() => setTold(!told)}>
                {told ? t("Fold the ledger up") : t("Show the ledger")}
              </Button>
            </dt>
            <dd className="num">{amount(m.paid)}</dd>
          </div>
        )}
        {m.returned > 0 && (
          <div className="row">
            <dt className="grow">{t("Given back")}</dt>
            <dd className="num">{amount(m.returned)}</dd>
          </div>
        )}
        {m.returning > 0 && (
          <div className="row">
            <dt className="grow">{t("On its way back, the bank has not answered yet")}</dt>
            <dd className="num">{amount(m.returning)}</dd>
          </div>
        )}
        {m.parts.map((p, i) => (
          <div className="row" key={p.due}>
            <dt className="grow">
              {t("Open")} · {dueWords(p.due)}{" "}
              {i === 0 && (
                <Button size="small" loading={move.busy} onClick={() => move.send("receive")}>
                  {t("It came in")}
                </Button>
              )}
            </dt>
            <dd className="num">{amount(p.amount)}</dd>
          </div>
        ))}
        {m.overpaid > 0 && (
          <div className="row">
            <dt className="grow">
              {t("Paid too much")}{" "}
              <Button size="small" loading={move.busy} onClick={() => move.send("return")}>
                {t("Give it back")}
              </Button>
            </dt>
            <dd className="num">{amount(m.overpaid)}</dd>
          </div>
        )}
        {m.held > 0 && (
          <div className="row">
            <dt className="grow">
              {t("Held as security")}{" "}
              <Button size="small" loading={move.busy} onClick={() => move.send("release")}>
                {t("Give it back")}
              </Button>
            </dt>
            <dd className="num">{amount(m.held)}</dd>
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
      {told && <Ledger entries={m.ledger} currency={d.currency} />}
      {m.asked && (
        <div className="notice attention" role="status">
          {t("A payment is under way. What changes the money waits for the bank’s answer.")}
        </div>
      )}
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
        okButtonProps={{ danger: true, loading: move.busy }}
        cancelText={t("Leave it as it was")}
        onOk={() => move.send("cancel")}
        onCancel={() => setCancelling(false)}
      >
        <Trouble error={move.problem} />
        <p>
          {t(
            "Its unfinished work is taken away, its booked places are given free, and its briefs are closed. This cannot be undone.",
          )}
        </p>
        <p>
          <Checkbox checked={how.refund} onChange={(e) => setHow({ ...how, refund: e.target.checked })}>
            {t("give back {{amount}}", { amount: amount(m.gives_back) })}
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

// PaidMark says in a word and a shape how far an order is paid.
export function PaidMark({ m, currency }: { m: Schemas["OrderMoney"]; currency: string }) {
  const { t } = useTranslation();
  if (m.open === 0) return <div className="mark good">● {t("paid")}</div>;
  return (
    <div className="mark attention">
      ◐ {t("{{amount}} of the order open", { amount: money(m.open, currency) })}
    </div>
  );
}
