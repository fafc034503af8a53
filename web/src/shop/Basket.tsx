import { Button } from "antd";
import { useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useNavigate } from "react-router";
import { api, type Schemas, take } from "../shared/api/client";
import { loadFields, shown } from "../shared/questions/fields";
import { Foreseen } from "../shared/slip/Foreseen";
import { type Row, Slip } from "../shared/slip/Slip";
import { Trouble } from "../shared/Trouble";
import { useEvaluation } from "../shared/useEvaluation";
import { CouponBox } from "./CouponBox";
import { type Entry, linesOf, ordered, useBasket, useExtras } from "./keep";

// useBasketView evaluates the basket as it would be ordered now.
export function useBasketView(basket: Entry[]) {
  const [extras] = useExtras();
  return useEvaluation({ lines: linesOf(basket), ...extras }, (body, signal) =>
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
      </aside>
    </div>
  );
}

function BasketLine({
  entry,
  view,
  remove,
}: {
  entry: Entry;
  view?: Schemas["BasketLineView"];
  remove: () => void;
}) {
  const { t } = useTranslation();
  const page = view?.page;
  const wrong = view?.evaluation?.faults.filter(
    (f) => page?.questions.find((q) => q.key === f.key)?.moment === "choosing" || f.key === "quantity",
  );
  const wording = (key: string) => page?.questions.find((q) => q.key === key)?.wording ?? key;
  return (
    <article className={entry.of ? "sheet basket-line of" : "sheet basket-line"}>
      {page?.picture && <img src={`/pictures/${page.picture}`} alt="" width="96" height="60" />}
      <div className="grow">
        <div className="row">
          <h2 className="grow">{page?.title ?? entry.product}</h2>
          {page && !entry.of && <Link to={`/p/${entry.product}?line=${entry.id}`}>{t("Change")}</Link>}
          <button type="button" className="linkish" onClick={remove}>
            {t("Take out")}
          </button>
        </div>
        {view && !view.sold && (
          <div className="notice bad">{t("This is no longer sold. Take it out to go on.")}</div>
        )}
        {view?.newer && (
          <div className="notice attention">
            {t("This product changed since you chose. Please look at it again.")}
          </div>
        )}
        {wrong && wrong.length > 0 && (
          <div className="notice bad">
            {wrong.map((f) => (
              <div key={f.key}>
                {wording(f.key)}: {f.message}
              </div>
            ))}
          </div>
        )}
        <dl className="answers">
          {entry.quantity > 1 && (
            <div>
              <dt>{t("How many?")}</dt>
              <dd className="num">{entry.quantity}</dd>
            </div>
          )}
          {view?.evaluation?.asked
            .filter((a) => {
              const q = page?.questions.find((q) => q.key === a.key);
              return q?.moment === "choosing" && !shown.has(q.kind) && (a.answered || a.later);
            })
            .map((a) => (
              <div key={a.key}>
                <dt>{wording(a.key)}</dt>
                <dd>{a.answered ? a.words : <span className="quiet">{t("you tell us later")}</span>}</dd>
              </div>
            ))}
        </dl>
        <Foreseen promise={view?.evaluation?.promise} />
      </div>
    </article>
  );
}
