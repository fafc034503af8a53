import { Button, Popconfirm } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { money } from "../../shared/format";
import { FormerSlips } from "../../shared/money/FormerSlips";
import { Slip } from "../../shared/slip/Slip";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";
import { useDueWords } from "./Ledger";
import { CancelOrder, GiveBack, Receive, Release, useMove } from "./MoneyDialogs";

// OrderMoney shows the money of a whole order: its slip where it tells more
// than that of the line, what was received, is open, held and given back.
export function OrderMoney({ d }: { d: Schemas["Docket"] }) {
  const { t } = useTranslation();
  const [asked, setAsked] = useState<"receive" | "return" | "release" | "cancel">();
  const released = d.money.held > 0 && d.money.held_by_card < d.money.held;
  const release = useChange({
    once: true,
    send: () =>
      take(
        api.POST("/api/desk/orders/{number}/{action}", {
          params: { path: { number: d.number, action: "release" } },
          body: {},
        }),
      ),
    refreshes: ["docket", "orders", "money"],
  });
  const close = () => setAsked(undefined);
  const { session, today } = useHere();
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
      <Trouble error={release.problem} />
      <dl className="small">
        {m.ledger.length > 0 && (
          <div className="row">
            <dt className="grow">{t("Paid")}</dt>
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
              {p.overdue && <span className="mark bad">▲ {t("overdue")}</span>}{" "}
              {i === 0 && (
                <Button size="small" onClick={() => setAsked("receive")}>
                  {t("It came in …")}
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
              <Button size="small" onClick={() => setAsked("return")}>
                {t("Give it back …")}
              </Button>
            </dt>
            <dd className="num">{amount(m.overpaid)}</dd>
          </div>
        )}
        {m.held > 0 && (
          <div className="row">
            <dt className="grow">
              {t("Held as security")}{" "}
              <Button
                size="small"
                loading={release.busy}
                onClick={() => (released ? setAsked("release") : release.send())}
              >
                {released ? t("Give it back …") : t("Give it back")}
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
      <FormerSlips slips={d.former} zone={session.zone} today={today} />
      {m.asked && (
        <div className="notice attention" role="status">
          {t("A payment is under way. What changes the money waits for the bank’s answer.")}
        </div>
      )}
      {m.state === "cancelled" && <span className="mark plain">■ {t("cancelled")}</span>}
      {m.state === "awaiting" && <Awaiting d={d} />}
      {m.state === "lapsed" && (
        <Button size="small" onClick={() => setAsked("receive")}>
          {t("It came in …")}
        </Button>
      )}
      <div className="row">
        {m.kept > 0 && m.state !== "awaiting" && (
          <Button size="small" onClick={() => setAsked("return")}>
            {t("Give money back …")}
          </Button>
        )}
        {m.state === "placed" && (
          <Button size="small" onClick={() => setAsked("cancel")}>
            {t("Cancel the order …")}
          </Button>
        )}
      </div>
      {asked === "receive" && <Receive d={d} close={close} />}
      {asked === "release" && <Release d={d} close={close} />}
      {asked === "return" && <GiveBack d={d} close={close} />}
      {asked === "cancel" && <CancelOrder d={d} close={close} />}
    </section>
  );
}

// Awaiting has what can be done with an order whose transfer has not come in.
function Awaiting({ d }: { d: Schemas["Docket"] }) {
  const { t } = useTranslation();
  const accept = useMove(d, "accept", () => undefined);
  const free = useMove(d, "free", () => undefined);
  return (
    <>
      <Trouble error={accept.problem ?? free.problem} />
      <div className="row">
        <Popconfirm
          title={t("Take the order up now? What is open stays open.")}
          okText={t("Take it up")}
          cancelText={t("Leave it")}
          onConfirm={() => accept.send({})}
        >
          <Button size="small" loading={accept.busy}>
            {t("Take it up before it came in …")}
          </Button>
        </Popconfirm>
        <Popconfirm
          title={t("Give free all that is held for it? The customer gets a mail.")}
          okText={t("Give it free")}
          cancelText={t("Leave it")}
          onConfirm={() => free.send({})}
        >
          <Button size="small" danger loading={free.busy}>
            {t("Give it free …")}
          </Button>
        </Popconfirm>
      </div>
    </>
  );
}

// PaidMark says in a word and a shape how far an order is paid.
export function PaidMark({ m, currency }: { m: Schemas["OrderMoney"]; currency: string }) {
  const { t } = useTranslation();
  if (m.state === "awaiting") return <div className="mark attention">◔ {t("waits for its transfer")}</div>;
  if (m.state === "lapsed") return <div className="mark plain">□ {t("given free")}</div>;
  if (m.open === 0) return <div className="mark good">● {t("paid")}</div>;
  return (
    <div className="mark attention">
      ◐ {t("{{amount}} of the order open", { amount: money(m.open, currency) })}
    </div>
  );
}
