import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { Docket, Fact, Gauge } from "../../shared/docket/Docket";
import { SoldVouchers } from "../../shared/docket/SoldVouchers";
import { day, local, money } from "../../shared/format";
import { Html } from "../../shared/Html";
import { pointAt } from "../../shared/point";
import { Slip } from "../../shared/slip/Slip";
import { useMarked } from "../../shared/useMarked";
import { Handed } from "../handed/Handed";
import { Promises } from "../Promises";
import { useCounting } from "../useCounting";
import { Answered } from "./Answered";
import { AtOnce } from "./AtOnce";
import { useOrderSaving } from "./saving";
import { Things } from "./Things";
import { ToAnswer, useStay } from "./ToAnswer";
import { Unsent } from "./Unsent";
import { useBrief } from "./useBrief";
import { when } from "./when";

type Props = { order: Schemas["OrderPage"]; line: Schemas["OrderLine"]; link: string };

// Line is an order line as its customer has it: what is still to answer, what was
// answered, what was handed over, and the slip.
export function Line({ order, line, link }: Props) {
  const { t } = useTranslation();
  const { root, marked } = useMarked<HTMLDivElement>();
  useCounting(root, line.brief === "closed" ? undefined : line.page);
  const brief = useBrief(line, useOrderSaving(line.id, link));
  const stay = useStay(line, brief);
  const promised = line.promised;
  const booked = line.asked.find((a) => line.page.questions.find((q) => q.key === a.key)?.kind === "booking");
  const briefs: Record<Schemas["BriefState"], string> = {
    waiting: t("We wait for your answers"),
    complete: t("We have all we need"),
    changed: t("We have seen your change"),
    closed: t("Closed"),
  };
  const unplaced = { awaiting: t("waits for your transfer"), lapsed: t("given free") };
  const early =
    order.money.state === "awaiting" || order.money.state === "lapsed" ? order.money.state : undefined;
  const state = early ? unplaced[early] : line.cancelled ? t("cancelled") : briefs[line.brief];
  const stub = (
    <>
      <Fact name={t("Order")}>
        <div className="docket-number num">{order.number}</div>
      </Fact>
      {booked?.words ? (
        <Fact name={t("Booked")}>
          <strong>{booked.words}</strong>
        </Fact>
      ) : line.handed ? (
        <Fact name={t("Handed over")}>
          <strong>{day(local(line.handed, order.zone).day, order.today)}</strong>
        </Fact>
      ) : (
        <Fact name={t("Promised")}>
          <strong>
            {promised
              ? day(promised, order.today)
              : early === "lapsed"
                ? "–"
                : early
                  ? t("once it is placed")
                  : line.at_once && line.missing.length === 0
                    ? t("at once")
                    : t("once all is answered")}
          </strong>
        </Fact>
      )}
      {line.total > 0 && (
        <Fact name={t("Your answers")}>
          <Gauge
            have={line.answered}
            of={line.total}
            words={t("{{have}} of {{of}} answered", { have: line.answered, of: line.total })}
          />
        </Fact>
      )}
      {order.money.open === 0 && order.money.state === "placed" && (
        <Fact name={t("Paid")}>
          <span className="num">{money(line.slip.total, line.slip.currency)}</span>
        </Fact>
      )}
      {order.money.open > 0 && !early && (
        <Fact name={t("Paid of the order")}>
          <span className="num">{money(order.money.kept, line.slip.currency)}</span>
        </Fact>
      )}
    </>
  );
  return (
    <Docket stub={stub} label={line.page.title}>
      <div className="row">
        <h2 className="grow">{line.page.title}</h2>
        <span
          className={`mark ${early === "lapsed" ? "plain" : line.brief === "waiting" ? "attention" : line.brief === "closed" ? "plain" : "good"}`}
        >
          {state}
        </span>
      </div>
      {!early && <AtOnce line={line} link={link} today={order.today} />}
      {!early && <Handed order={order} line={line} link={link} />}
      <div className="order-columns">
        <div data-line={line.id} ref={root}>
          {early ? (
            early === "awaiting" &&
            line.missing.length > 0 && (
              <p className="small quiet">
                {t("What is still to answer waits here until your transfer came in.")}
              </p>
            )
          ) : (
            <ToAnswer
              line={line}
              link={link}
              theirs={
                order.recipient && {
                  name: order.recipient.name,
                  asked: (key) => line.page.questions.some((q) => q.key === key && q.recipient === true),
                }
              }
              brief={brief}
              stay={stay}
            />
          )}
          {order.money.state === "placed" && !line.cancelled && <Things line={line} link={link} />}
          <Unsent line={line} link={link} brief={brief} />
          <Answered order={order} line={line} link={link} brief={brief} hide={stay.keys} />
          {line.history.length > 0 && (
            <details className="history">
              <summary>{t("What was changed, and when")}</summary>
              <ul>
                {line.history.map((h) => (
                  <li key={`${h.key}${h.at}`}>
                    <span className="quiet small">{when(h.at, order)}</span> {h.wording}:{" "}
                    {h.old ? <del>{h.old}</del> : <span className="quiet">{t("nothing")}</span>} →{" "}
                    {h.new || <span className="quiet">{t("nothing")}</span>}
                    <span className="quiet small"> · {h.by}</span>
                  </li>
                ))}
              </ul>
            </details>
          )}
        </div>
        <div className="stack">
          <Slip
            slip={line.slip}
            title={t("Slip")}
            marked={marked}
            wording={(row) => line.page.questions.find((q) => q.key === row.question)?.wording}
            go={(row) => {
              const box = document.querySelector(`[data-line="${line.id}"]`);
              if (row.question && box) pointAt(row.question, box);
            }}
          />
          {line.vouchers && (
            <SoldVouchers vouchers={line.vouchers} currency={line.slip.currency} today={order.today}>
              {t("It pays at checkout, also in parts.")}{" "}
              <Link to="/voucher">{t("What is left of a voucher")}</Link>
            </SoldVouchers>
          )}
          <Promises pages={[line.page]} />
          {line.page.next && (
            <section className="small">
              <h3>{t("What happens next")}</h3>
              <Html html={line.page.next} />
            </section>
          )}
        </div>
      </div>
    </Docket>
  );
}
