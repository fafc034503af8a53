import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams, useSearchParams } from "react-router";
import { api, Problem, type Schemas, take } from "../shared/api/client";
import { money } from "../shared/format";
import { lost } from "../shared/lost";
import { FormerSlips } from "../shared/money/FormerSlips";
import { loadFields } from "../shared/questions/fields";
import { Slip } from "../shared/slip/Slip";
import { Trouble } from "../shared/Trouble";
import { TodayContext } from "../shared/today";
import { useKept } from "../shared/useKept";
import { Cancel } from "./Cancel";
import { TermsText } from "./checkout/Agreements";
import { Recipient } from "./gift/Recipient";
import { knownKey } from "./known";
import { News } from "./News";
import { type About, AboutContext } from "./order/about";
import { Dates } from "./order/Dates";
import { Keep } from "./order/Keep";
import { Line } from "./order/Line";
import { Messages } from "./order/Messages";
import { Renew } from "./order/Renew";
import { loadTransfer, PayRest } from "./pay/PayRest";

// OrderPage is the customer's half of the docket: what happens next, what is
// still to answer, what they answered, the slip.
export function OrderPage() {
  const { t } = useTranslation();
  const { link = "" } = useParams();
  const [params] = useSearchParams();
  const order = useQuery({
    queryKey: ["order", link],
    queryFn: async () => {
      const order = await take(api.GET("/api/shop/orders/{link}", { params: { path: { link } } }));
      await loadFields(order.lines.flatMap((l) => l.page.questions));
      if (order.awaiting) await loadTransfer(); // so that it pushes nothing away
      return order;
    },
    // another device may have answered meanwhile
    refetchOnWindowFocus: true,
    refetchInterval: 30_000,
    retry: false,
  });
  // Whoever has the link may be offered what they answered, next time.
  const [, setKnown] = useKept(knownKey, "");
  const [about, setAbout] = useState<About>();
  const here = order.data !== undefined;
  useEffect(() => {
    if (here) setKnown(link);
  }, [here, link, setKnown]);
  if (lost(order)) {
    return (
      <div className="narrow stack">
        <h1>{t("Your order")}</h1>
        <Trouble error={order.error} again={() => order.refetch()} />
        {order.error instanceof Problem && order.error.code === "ended_link" && <Renew link={link} />}
        {order.error instanceof Problem && order.error.lasting && order.error.code !== "ended_link" && (
          <p>
            <Link to="/mine">{t("Have a link to all your orders mailed to you")}</Link>
          </p>
        )}
      </div>
    );
  }
  if (!order.data) return null;
  const o = order.data;
  return (
    <TodayContext.Provider value={o.today}>
      <div className="order stack">
        {params.has("new") && o.awaiting && (
          <div className="notice good" role="status">
            {t(
              "Thank you, {{name}}. Your order {{number}} is noted. A mail with the account and the link to this page is on its way to {{email}}.",
              { name: o.name, number: o.number, email: o.email },
            )}
          </div>
        )}
        {params.has("new") && o.money.state === "placed" && (
          <div className="notice good" role="status">
            {t(
              "Thank you, {{name}}. Your order {{number}} is paid. A mail with the link to this page is on its way to {{email}}.",
              {
                name: o.name,
                number: o.number,
                email: o.email,
              },
            )}
          </div>
        )}
        <h1>{t("Your order {{number}}", { number: o.number })}</h1>
        {o.money.state === "lapsed" && (
          <div className="notice attention" role="status">
            {t(
              "This order was given free: nothing is held any more and nothing is charged. You can order again at any time.",
            )}
          </div>
        )}
        {o.awaiting && <PayRest order={o} link={link} />}
        <Dates order={o} />
        <Recipient order={o} link={link} />
        <AboutContext value={setAbout}>
          {o.lines.map((line) => (
            <Line key={line.id} order={o} line={line} link={link} />
          ))}
        </AboutContext>
        <Messages order={o} link={link} about={about} drop={() => setAbout(undefined)} />
        {o.money.state === "cancelled" && (
          <div className="notice attention" role="status">
            {t("This order is cancelled.")}{" "}
            {o.money.returned > 0 &&
              t("{{amount}} was given back.", { amount: money(o.money.returned, o.slip.currency) })}{" "}
            {o.money.returning > 0 &&
              t("{{amount}} is on its way back to you.", {
                amount: money(o.money.returning, o.slip.currency),
              })}
          </div>
        )}
        {o.money.overpaid > 0 && (
          <div className="notice attention" role="status">
            {t("You paid {{amount}} more than this costs now. {{business}} gives it back.", {
              amount: money(o.money.overpaid, o.slip.currency),
              business: o.business,
            })}
          </div>
        )}
        {!o.awaiting && <PayRest order={o} link={link} />}
        <Cancel order={o} link={link} />
        <FormerSlips slips={o.former} zone={o.zone} today={o.today} />
        {wholly(o) && (
          <section className="sheet">
            <Slip
              slip={o.slip}
              title={t("Everything together")}
              wording={(row) =>
                o.lines[(row.of ?? 0) - 1]?.page.questions.find((q) => q.key === row.question)?.wording
              }
            />
          </section>
        )}
        {o.terms && (
          <section className="sheet">
            <span>{t("This order was placed under our terms of sale.")}</span>
            <TermsText text={o.terms} />
          </section>
        )}
        {o.news && (
          <News
            news={o.news}
            zone={o.zone}
            today={o.today}
            say={(agreed) =>
              take(api.PUT("/api/shop/orders/{link}/news", { params: { path: { link } }, body: { agreed } }))
            }
          />
        )}
        <Keep order={o} link={link} />
      </div>
    </TodayContext.Provider>
  );
}

// wholly says whether the whole order's slip tells more than those of its lines.
const wholly = (o: Schemas["OrderPage"]) =>
  o.lines.length > 1 ||
  o.slip.vouchers !== undefined ||
  o.slip.lines.some((l) => ["order", "coupon", "tip", "reverse"].includes(l.part ?? ""));
