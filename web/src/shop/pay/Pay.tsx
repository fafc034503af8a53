import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useNavigate } from "react-router";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { money } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { Heading } from "../Heading";
import { checkoutKey, extrasKey, forget, useBasket } from "../keep";
import { usePayment } from "./usePayment";
import { Open, Refused, Silent } from "./Waiting";
import { type Way, WayPicker } from "./WayPicker";

export type Step = { name: string; view?: Schemas["BasketView"]; stale: boolean };

// Pay takes the payment of a checkout, and then leads to the order page.
export function Pay({ name, view, stale }: Step) {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const [, setBasket] = useBasket();
  const path = { params: { path: { checkout: name } } };
  const { payment, problem, busy, attempt, run, begin } = usePayment({
    look: async () => {
      const c = await take(api.GET("/api/shop/checkouts/{checkout}", path));
      return c.payment;
    },
    onSettled: (p) => {
      setBasket([]);
      forget(checkoutKey);
      forget(extrasKey);
      navigate(`/o/${p.link}?new`, { replace: true });
    },
  });
  const ways = view?.ways ?? [];
  const [chosen, choose] = useState<Way>();
  const way = (ways.find((w) => w.way === chosen && !w.refused) ?? ways.find((w) => !w.refused))?.way;
  const leave = () => run(() => take(api.POST("/api/shop/checkouts/{checkout}/leave", path)));
  const now = view ? (view.slip.to_pay ?? view.slip.due?.[0]?.amount ?? view.slip.total) : 0;
  const held = view?.slip.held ?? 0;
  const total = view ? money(now, view.slip.currency) : "";
  const sum = view ? money(now + held, view.slip.currency) : "";
  const free = view !== undefined && now + held === 0;
  if (!view && payment === undefined) {
    return (
      <div className="stack">
        <Heading at={2}>{t("Pay")}</Heading>
      </div>
    );
  }
  if (payment?.state === "confirm" || payment?.state === "asked") {
    return (
      <div className="stack">
        <Heading at={2}>{t("Pay")}</Heading>
        <Trouble error={problem} />
        {payment.state === "asked" ? (
          <Silent />
        ) : (
          <Open page={payment.page} total={sum} busy={busy} leave={leave} />
        )}
      </div>
    );
  }
  return (
    <form
      className="stack"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        begin(() =>
          take(
            api.POST("/api/shop/checkouts/{checkout}/pay", {
              ...path,
              body: { attempt, total: view?.slip.total, way: free ? undefined : way },
            }),
          ),
        );
      }}
    >
      <Heading at={2}>{t("Pay")}</Heading>
      <Trouble error={problem} />
      <Elsewhere problem={problem} />
      {payment?.state === "refused" && <Refused reason={payment.reason} />}
      {free ? (
        <p>
          {view?.slip.vouchers
            ? t("Your voucher pays all that is due now, so no card is needed.")
            : t("This order costs nothing, so no card is needed.")}
        </p>
      ) : (
        <>
          {view && <WayPicker ways={ways} lines={view.lines.length} value={way} choose={choose} />}
          {held > 0 && view && (
            <p>
              {way === "transfer"
                ? t("{{amount}} of it is held as security and given back afterwards.", {
                    amount: money(held, view.slip.currency),
                  })
                : t("{{amount}} more is held on the card as security and given back afterwards.", {
                    amount: money(held, view.slip.currency),
                  })}
            </p>
          )}
        </>
      )}
      <div className="row">
        <Button
          type="primary"
          size="large"
          htmlType="submit"
          loading={busy}
          disabled={!view || stale || name === "" || (!free && way === undefined)}
        >
          {free
            ? t("Place the order")
            : way === "transfer"
              ? t("Order, and transfer {{total}}", { total: sum })
              : t("Pay {{total}}", { total })}
        </Button>
        <Link to="/checkout">{t("Back")}</Link>
      </div>
    </form>
  );
}

// Elsewhere says what is wrong with things that are changed in the basket.
function Elsewhere({ problem }: { problem: unknown }) {
  const { t } = useTranslation();
  if (!(problem instanceof Problem)) return null;
  return problem.errors
    .filter((e) => e.key.startsWith("lines.") || e.key.startsWith("coupons."))
    .map((e) => (
      <div className="notice bad" key={e.key}>
        {e.message} <Link to="/basket">{t("Back to the basket")}</Link>
      </div>
    ));
}
