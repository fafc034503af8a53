import { useEffect } from "react";
import { useTranslation } from "react-i18next";
import { Link, useSearchParams } from "react-router";
import { randomName } from "../shared/name";
import { Foreseen } from "../shared/slip/Foreseen";
import { Slip } from "../shared/slip/Slip";
import { Trouble } from "../shared/Trouble";
import { useKept } from "../shared/useKept";
import { useMarked } from "../shared/useMarked";
import { useBasketView, wordingIn } from "./Basket";
import { CancelTerms } from "./CancelTerms";
import { CouponBox } from "./CouponBox";
import { About } from "./checkout/About";
import { checkoutKey, ordered, useBasket } from "./keep";
import { Promises } from "./Promises";
import { Pay } from "./pay/Pay";

// Checkout asks for what is left in two steps: who you are with the questions
// of this moment, then the payment. The step stands in the address, so going
// back goes back one step.
export function Checkout() {
  const { t } = useTranslation();
  const [params] = useSearchParams();
  const [kept] = useBasket();
  const basket = ordered(kept);
  const [name, setName] = useKept(checkoutKey, "");
  const view = useBasketView(basket);
  const { root, marked } = useMarked<HTMLDivElement>();
  useEffect(() => {
    if (name === "") setName(randomName());
  }, [name, setName]);
  if (basket.length === 0) {
    return (
      <div className="narrow stack">
        <h1>{t("Check out")}</h1>
        <div className="empty">
          <p>{t("The basket is empty, so there is nothing to pay.")}</p>
          <Link to="/">{t("See what we offer")}</Link>
        </div>
      </div>
    );
  }
  const paying = params.get("step") === "pay";
  const couponAsked = !view.result?.arrangement?.sections?.some((s) => s.name === "coupon" && s.off);
  return (
    <div className="two-columns">
      <div className="stack" ref={root}>
        {view.error !== undefined && <Trouble error={view.error} again={view.again} />}
        {paying ? (
          <Pay name={name} view={view.result} stale={view.stale} />
        ) : (
          <About name={name} view={view.result} stale={view.stale} again={view.again} />
        )}
      </div>
      <aside className="sheet side">
        {view.result && (
          <Slip
            slip={view.result.slip}
            stale={view.stale}
            title={t("Slip")}
            marked={marked}
            wording={wordingIn(view.result)}
          >
            {view.result.lines.map((l, i) => (
              <Foreseen
                // biome-ignore lint/suspicious/noArrayIndexKey: a line is known by its place
                key={i}
                promise={l.evaluation?.promise}
                of={(view.result?.lines.length ?? 0) > 1 ? l.page?.title : undefined}
              />
            ))}
          </Slip>
        )}
        <Promises pages={view.result?.lines.map((l) => l.page) ?? []} />
        <CancelTerms sets={view.result?.cancelling} />
        {/* before the slip is there, it would be pushed down */}
        {!paying && couponAsked && (view.result || view.error !== undefined) && (
          <CouponBox coupons={view.result?.coupons} currency={view.result?.slip.currency ?? ""} />
        )}
      </aside>
    </div>
  );
}
