import { Button } from "antd";
import { useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useNavigate } from "react-router";
import { api, type Schemas, take } from "../shared/api/client";
import { randomName } from "../shared/name";
import { loadFields } from "../shared/questions/fields";
import { type Row, Slip } from "../shared/slip/Slip";
import { Trouble } from "../shared/Trouble";
import { useEvaluation } from "../shared/useEvaluation";
import { BasketLine } from "./BasketLine";
import { CouponBox } from "./CouponBox";
import { KeepBasket } from "./KeepBasket";
import { type Entry, linesOf, ordered, useBasket, useExtras } from "./keep";

// useBasketView evaluates the basket as it would be ordered now.
export function useBasketView(basket: Entry[]) {
  const [{ recipient, news: _, ...extras }] = useExtras();
  return useEvaluation({ lines: linesOf(basket), ...extras, gift: recipient !== undefined }, (body, signal) =>
    take(api.POST("/api/shop/basket", { body, signal })).then(async (view) => {
      await loadFields(view.lines.flatMap((l) => l.page?.questions ?? []));
      return view;
    }),
  );
}

// wordingIn tells how the question is worded that makes a line of the whole slip.
export const wordingIn = (view: Schemas["BasketView"]) => (line: Row) =>
  view.lines[(line.of ?? 0) - 1]?.page?.questions.find((q) => q.key === line.question)?.wording;

export function Basket() {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const [kept, setBasket] = useBasket();
  const basket = ordered(kept);
  const [removed, setRemoved] = useState<Entry[]>();
  const { result, stale, error, again } = useBasketView(basket);
  // What was last known of each entry stands until there is something newer, so
  // that nothing moves under the finger.
  const views = useRef(new Map<string, Schemas["BasketLineView"]>());
  if (result && !stale)
    for (const [i, e] of basket.entries()) if (result.lines[i]) views.current.set(e.id, result.lines[i]);
  const remove = (entry: Entry) => {
    // What goes with it leaves with it.
    setRemoved(basket);
    setBasket((old) => old.filter((e) => e.id !== entry.id && e.of !== entry.id));
  };
  // What goes with it is doubled too.
  const double = (entry: Entry) =>
    setBasket((old) => {
      const id = randomName();
      const copies = old
        .filter((e) => e.id === entry.id || e.of === entry.id)
        .map((e) => (e.id === entry.id ? { ...e, id } : { ...e, id: randomName(), of: id }));
      return [...old, ...copies];
    });
  const undo = () => {
    if (removed) setBasket(removed);
    setRemoved(undefined);
  };
  const notice = removed && (
    <div className="notice row" role="status">
      <span className="grow">{t("Taken out of the basket.")}</span>
      <Button onClick={undo}>{t("Put it back")}</Button>
    </div>
  );
  if (basket.length === 0) {
    return (
      <div className="narrow stack">
        <h1>{t("Your basket")}</h1>
        {notice}
        <div className="empty">
          <p>{t("What you choose will be here.")}</p>
          <Link to="/">{t("See what we offer")}</Link>
        </div>
      </div>
    );
  }
  if (!result && error === undefined) {
    return (
      <div className="stack">
        <h1>{t("Your basket")}</h1>
      </div>
    );
  }
  return (
    <div className="two-columns">
      <div className="stack">
        <h1>{t("Your basket")}</h1>
        {error !== undefined && <Trouble error={error} again={again} />}
        {notice}
        {basket.map((entry) => (
          <BasketLine
            key={entry.id}
            entry={entry}
            view={views.current.get(entry.id)}
            remove={() => remove(entry)}
            double={() => double(entry)}
            change={(part) =>
              setBasket((old) => old.map((e) => (e.id === entry.id ? { ...e, ...part(e) } : e)))
            }
          />
        ))}
      </div>
      <aside className="sheet stack side">
        {result && <Slip slip={result.slip} stale={stale} title={t("Slip")} wording={wordingIn(result)} />}
        <CouponBox coupons={result?.coupons} currency={result?.slip.currency ?? ""} />
        <Button
          type="primary"
          size="large"
          block
          disabled={!result || stale}
          onClick={() => navigate("/checkout")}
        >
          {t("Check out")}
        </Button>
        <Link to="/" className="small">
          {t("Add something else")}
        </Link>
        <KeepBasket />
      </aside>
    </div>
  );
}
