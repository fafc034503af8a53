import { useQueryClient } from "@tanstack/react-query";
import { Button, Input, Popconfirm } from "antd";
import { lazy, Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import { useSearchParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, money } from "../../shared/format";
import { save } from "../../shared/kept";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { payingKey } from "../keep";
import { usePayment } from "./usePayment";
import { Open, Refused, Silent } from "./Waiting";

type Props = { order: Schemas["OrderPage"]; link: string };

// The code to scan is loaded by those who have something to pay.
export const loadTransfer = () => import("./Transfer").then((m) => ({ default: m.Transfer }));
const Transfer = lazy(loadTransfer);

const waits = (p: Schemas["Payment"]) => p.state === "asked" || p.state === "confirm";

// PayRest takes the payment of what of an order is still open.
export function PayRest({ order, link }: Props) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  // What was paid is said to who comes back from paying it.
  const led = useSearchParams()[0].has("back");
  const { due_now, slip } = order.money;
  const awaiting = order.awaiting;
  const open = awaiting ? awaiting.missing : order.money.open;
  const byCard = order.ways.includes("card");
  const amount = money(open, slip.currency);
  const path = { params: { path: { link } } };
  const { payment, problem, busy, attempt, run, begin } = usePayment({
    look: async () => (await take(api.GET("/api/shop/orders/{link}", path))).payment,
    first: order.payment && (led || waits(order.payment)) ? order.payment : null,
    onSettled: () => queries.invalidateQueries({ queryKey: ["order", link] }),
  });
  const giveUp = useChange({
    once: true,
    send: () => take(api.POST("/api/shop/orders/{link}/cancel", { ...path, body: { lines: [] } })),
    done: (page) => queries.setQueryData(["order", link], page),
  });
  const settled = payment?.state === "settled";
  if (open === 0 || order.money.state === "lapsed") {
    return settled ? (
      <div className="notice good" role="status">
        {t("Thank you. All of it is paid.")}
      </div>
    ) : null;
  }
  const how = order.transfer && (
    <Suspense fallback={<p className="quiet small transfer-wait">{t("How to transfer it")}</p>}>
      <Transfer transfer={order.transfer} currency={slip.currency} alone={awaiting !== undefined} />
    </Suspense>
  );
  const leave = () => run(() => take(api.POST("/api/shop/orders/{link}/leave", path)));
  const parts = order.money.parts;
  const now = awaiting ? awaiting.missing : due_now;
  const some = now < open;
  const begun = payment !== undefined && waits(payment);
  const pay = (all: boolean) => {
    save(payingKey, link);
    begin(() => take(api.POST("/api/shop/orders/{link}/pay", { ...path, body: { attempt, all } })));
  };
  return (
    <section className="sheet stack" aria-label={awaiting ? t("Your transfer") : t("Still to pay")}>
      {settled && (
        <div className="notice good" role="status">
          {t("Thank you. This part is paid.")}
        </div>
      )}
      <h2>
        {awaiting ? t("Please transfer {{amount}}", { amount }) : t("Still to pay: {{amount}}", { amount })}
      </h2>
      {awaiting && (
        <p>
          {awaiting.came > 0 &&
            t("{{amount}} came in by now.", { amount: money(awaiting.came, slip.currency) })}{" "}
          {t("Your order is placed once it came in. Until {{day}} everything is held for you.", {
            day: day(awaiting.until, order.today),
          })}
        </p>
      )}
      {awaiting && how}
      {!awaiting && (parts.length > 1 || parts[0]?.due !== "") && (
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
      {!begun && byCard && (
        <div className="row">
          <Button
            type={awaiting ? "default" : "primary"}
            size="large"
            loading={busy}
            onClick={() => pay(!some && awaiting === undefined)}
          >
            {awaiting
              ? t("Pay {{total}} by card instead", { total: money(now, slip.currency) })
              : t("Pay {{total}}", { total: money(now, slip.currency) })}
          </Button>
          {some && (
            <Button size="large" disabled={busy} onClick={() => pay(true)}>
              {t("Pay all of it: {{total}}", { total: amount })}
            </Button>
          )}
        </div>
      )}
      {!begun && <ByVoucher link={link} />}
      {!begun && awaiting && (
        <div>
          <Trouble error={giveUp.problem} />
          <Popconfirm
            title={t("Give the order up? Nothing is held for you any more then.")}
            okText={t("Give it up")}
            cancelText={t("Keep it")}
            onConfirm={() => giveUp.send()}
          >
            <Button type="link" loading={giveUp.busy}>
              {t("I do not want it any more")}
            </Button>
          </Popconfirm>
        </div>
      )}
      {!begun && !awaiting && how}
    </section>
  );
}

// ByVoucher pays what is still open with a voucher, as far as it goes.
function ByVoucher({ link }: { link: string }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [code, setCode] = useState("");
  const pay = useChange({
    once: true,
    send: () =>
      take(api.POST("/api/shop/orders/{link}/voucher", { params: { path: { link } }, body: { code } })),
    done: (page) => {
      setCode("");
      queries.setQueryData(["order", link], page);
    },
  });
  const fault = pay.of("code");
  return (
    <details>
      <summary className="small">{t("Pay it with a voucher")}</summary>
      <form
        className="row voucher-form"
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          pay.send();
        }}
      >
        <Input
          aria-label={t("Code")}
          placeholder={t("Code of a voucher")}
          value={code}
          maxLength={40}
          autoComplete="off"
          status={fault ? "error" : undefined}
          onChange={(e) => {
            setCode(e.target.value);
            pay.forget("code");
          }}
        />
        <Button htmlType="submit" loading={pay.busy} disabled={code.trim() === ""}>
          {t("Use it")}
        </Button>
      </form>
      {fault ? (
        <div className="question-fault" role="alert">
          {fault}
        </div>
      ) : (
        <Trouble error={pay.problem} />
      )}
    </details>
  );
}
