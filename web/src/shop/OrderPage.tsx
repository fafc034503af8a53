import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useEffect, useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams, useSearchParams } from "react-router";
import { api, Problem, type Schemas, take } from "../shared/api/client";
import type { DaysSource } from "../shared/days/source";
import { Docket, Fact, Gauge } from "../shared/docket/Docket";
import { SoldVouchers } from "../shared/docket/SoldVouchers";
import { day, local, money } from "../shared/format";
import { Html } from "../shared/Html";
import { FormerSlips } from "../shared/money/FormerSlips";
import { pointAt } from "../shared/point";
import { Meetings } from "../shared/questions/booking/Meetings";
import { loadFields, shown } from "../shared/questions/fields";
import { Proofs } from "../shared/questions/Proofs";
import { QuestionField } from "../shared/questions/QuestionField";
import { QuestionList } from "../shared/questions/QuestionList";
import { faultsOf } from "../shared/questions/types";
import { Slip } from "../shared/slip/Slip";
import { Trouble } from "../shared/Trouble";
import { TodayContext } from "../shared/today";
import { useChange } from "../shared/useChange";
import { useMarked } from "../shared/useMarked";
import { Cancel } from "./Cancel";
import { Handed } from "./handed/Handed";
import { useKept } from "./keep";
import { knownKey } from "./known";
import { PriceDialog } from "./PriceDialog";
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
    refetchOnWindowFocus: false,
    retry: false,
  });
  // Whoever has the link may be offered what they answered, next time.
  const [, setKnown] = useKept(knownKey, "");
  const here = order.data !== undefined;
  useEffect(() => {
    if (here) setKnown(link);
  }, [here, link, setKnown]);
  if (order.error) {
    return (
      <div className="narrow stack">
        <h1>{t("Your order")}</h1>
        <Trouble error={order.error} />
        {order.error instanceof Problem && order.error.code === "ended_link" && <Renew link={link} />}
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
        {o.lines.map((line) => (
          <Line key={line.id} order={o} line={line} link={link} />
        ))}
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
      </div>
    </TodayContext.Provider>
  );
}

// Renew has a new link mailed, in place of one whose time is over.
function Renew({ link }: { link: string }) {
  const { t } = useTranslation();
  const renew = useChange({
    once: true,
    send: () => take(api.POST("/api/shop/orders/{link}/renew", { params: { path: { link } } })),
  });
  if (renew.done) {
    return (
      <div className="notice good" role="status">
        {t("A mail with a new link is on its way to the address of the order.")}
      </div>
    );
  }
  return (
    <>
      <Trouble error={renew.problem} />
      <div>
        <Button type="primary" loading={renew.busy} onClick={() => renew.send()}>
          {t("Mail me a new link")}
        </Button>
      </div>
    </>
  );
}

// wholly says whether the whole order's slip tells more than those of its lines.
const wholly = (o: Schemas["OrderPage"]) =>
  o.lines.length > 1 ||
  o.slip.vouchers !== undefined ||
  o.slip.lines.some((l) => ["order", "coupon", "tip", "reverse"].includes(l.part ?? ""));

// when writes an instant as it is at the business.
function when(instant: string, order: Schemas["OrderPage"]) {
  const at = local(instant, order.zone);
  return `${day(at.day, order.today)}, ${at.time}`;
}

type LineProps = { order: Schemas["OrderPage"]; line: Schemas["OrderLine"]; link: string };

function Line({ order, line, link }: LineProps) {
  const { t } = useTranslation();
  const { root, marked } = useMarked<HTMLDivElement>();
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
  const brief = early ? unplaced[early] : line.cancelled ? t("cancelled") : briefs[line.brief];
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
                  : t("once all is answered")}
          </strong>
        </Fact>
      )}
      <Fact name={t("Your answers")}>
        <Gauge
          have={line.answered}
          of={line.total}
          words={t("{{have}} of {{of}} answered", { have: line.answered, of: line.total })}
        />
      </Fact>
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
          {brief}
        </span>
      </div>
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
            <ToAnswer line={line} link={link} />
          )}
          <Answered line={line} link={link} />
          {line.history.length > 0 && (
            <details className="history">
              <summary>{t("What was changed, and when")}</summary>
              <ul>
                {line.history.map((h) => (
                  <li key={`${h.key}${h.at}`}>
                    <span className="quiet small">{when(h.at, order)}</span> {h.wording}:{" "}
                    {h.old ? <del>{h.old}</del> : <span className="quiet">{t("nothing")}</span>} →{" "}
                    {h.new || <span className="quiet">{t("nothing")}</span>}
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

// useSaving sends changed answers and keeps what was typed until it is saved.
function useSaving(line: Schemas["OrderLine"], link: string, kept: string, done?: () => void) {
  const queries = useQueryClient();
  const [typed, setTyped] = useKept<Record<string, unknown>>(kept, {});
  const [saved, setSaved] = useState(false);
  // What the price would be, while the customer has not agreed to it.
  const [priced, setPriced] = useState<Schemas["PriceChange"]>();
  const path = { params: { path: { link, line: line.id } } };
  const body = { version: line.version, answers: typed };
  const preview = useChange({
    send: () => take(api.POST("/api/shop/orders/{link}/lines/{line}/answers/preview", { ...path, body })),
    done: setPriced,
  });
  const answers = useChange({
    send: (agreed: number | undefined) =>
      take(api.PATCH("/api/shop/orders/{link}/lines/{line}/answers", { ...path, body: { ...body, agreed } })),
    done: (page) => {
      setPriced(undefined);
      setTyped({});
      setSaved(true);
      done?.();
      queries.setQueryData(["order", link], page);
    },
    refused: (e) => {
      if (e instanceof Problem && (e.code === "price_differs" || e.code === "price_agreed")) {
        preview.send();
        return;
      }
      // The newer state is shown beside what was typed, which stays.
      if (e instanceof Problem && e.status === 409) queries.invalidateQueries({ queryKey: ["order", link] });
    },
  });
  const { busy, forget } = answers;
  const asking = answers.problem instanceof Problem && answers.problem.code === "price_differs";
  const problem = asking ? preview.problem : answers.problem;
  const save = () => answers.send(undefined);
  const dialog = priced && (
    <PriceDialog
      change={priced}
      busy={busy}
      agree={() => answers.send(priced.after.total)}
      leave={() => {
        setPriced(undefined);
        forget();
      }}
    />
  );
  const change = (key: string, value: unknown) => {
    setSaved(false);
    forget(key);
    setTyped((old) => ({ ...old, [key]: value }));
  };
  return { typed, setTyped, change, save, problem, forget, busy: busy || preview.busy, saved, dialog };
}

function ToAnswer({ line, link }: { line: Schemas["OrderLine"]; link: string }) {
  const { t } = useTranslation();
  const s = useSaving(line, link, `ruvo.brief.${link.slice(0, 6)}.${line.id}`);
  const asked = new Map(line.asked.map((a) => [a.key, a]));
  const open = line.page.questions.filter((q) => {
    const a = asked.get(q.key);
    return a && (shown.has(q.kind) ? q.moment === "briefing" : line.open.includes(q.key));
  });
  const answerable = open.some((q) => !shown.has(q.kind));
  if (line.brief === "closed" || !answerable) {
    return s.saved ? (
      <div className="notice good" role="status">
        {t("Saved. We have all we need.")}
      </div>
    ) : null;
  }
  const errors = s.problem instanceof Problem ? s.problem.errors : [];
  const dirty = open.some((q) => s.typed[q.key] !== undefined && s.typed[q.key] !== null);
  return (
    <form
      className="to-answer"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        s.save();
      }}
    >
      {s.dialog}
      <h3>{line.missing.length > 0 ? t("Still to answer") : t("If you like, tell us more")}</h3>
      <Trouble error={s.problem} />
      {s.saved && (
        <div className="notice good" role="status">
          {t("Saved.")}
        </div>
      )}
      <QuestionList
        questions={open}
        draw={(q) => (
          <QuestionField
            key={q.key}
            prefix={`l${line.id}`}
            q={q}
            page={line.page}
            quantity={line.quantity}
            value={s.typed[q.key] ?? null}
            onChange={(v) => s.change(q.key, v)}
            asked={asked.get(q.key)}
            faults={faultsOf(errors, q.key)}
          />
        )}
      />
      <Button type="primary" htmlType="submit" loading={s.busy} disabled={!dirty}>
        {t("Send the answers")}
      </Button>
    </form>
  );
}

function Answered({ line, link }: { line: Schemas["OrderLine"]; link: string }) {
  const { t } = useTranslation();
  const [editing, setEditing] = useState<string>();
  // Also when it was saved by agreeing to its price.
  const close = () => setEditing(undefined);
  const s = useSaving(line, link, `ruvo.change.${link.slice(0, 6)}.${line.id}`, close);
  const errors = s.problem instanceof Problem ? s.problem.errors : [];
  const asked = new Map(line.asked.map((a) => [a.key, a]));
  const days = useMemo<DaysSource>(
    () => ({
      key: ["line-days", line.id],
      ask: (body) =>
        take(
          api.POST("/api/shop/orders/{link}/lines/{line}/days", {
            params: { path: { link, line: line.id } },
            body: { ...body, answers: {}, quantity: 1 },
          }),
        ),
    }),
    [link, line.id],
  );
  const questions = line.page.questions.filter((q) => !shown.has(q.kind) && asked.get(q.key)?.answered);
  const stop = () => {
    setEditing(undefined);
    s.setTyped({});
    s.forget();
  };
  return (
    <section>
      {s.dialog}
      <h3>{t("What you answered")}</h3>
      {s.saved && (
        <div className="notice good" role="status">
          {t("Saved. We see what you changed.")}
        </div>
      )}
      <dl className="answers">
        {questions.map((q) => {
          const locked = line.brief === "closed" || line.locked.includes(q.key);
          if (editing === q.key) {
            return (
              <div key={q.key} className="answer-edit">
                <QuestionField
                  prefix={`c${line.id}`}
                  q={q}
                  page={line.page}
                  value={q.key in s.typed ? s.typed[q.key] : (line.answers[q.key] ?? null)}
                  onChange={(v) => s.change(q.key, v)}
                  quantity={line.quantity}
                  days={days}
                  asked={asked.get(q.key)}
                  faults={faultsOf(errors, q.key)}
                />
                {s.problem !== undefined && faultsOf(errors, q.key).length === 0 && (
                  <Trouble error={s.problem} />
                )}
                <div className="row">
                  <Button
                    type="primary"
                    loading={s.busy}
                    disabled={!(q.key in s.typed)}
                    onClick={() => s.save()}
                  >
                    {t("Save")}
                  </Button>
                  <Button onClick={stop}>{t("Leave it as it was")}</Button>
                </div>
              </div>
            );
          }
          return (
            <div key={q.key} data-question={q.key}>
              <dt>{q.wording}</dt>
              <dd>
                <span className="grow answer-words">
                  {asked.get(q.key)?.words}
                  {q.kind === "booking" && (
                    <Meetings value={line.answers[q.key]} zone={line.page.booking?.zone ?? "UTC"} />
                  )}
                  {q.kind === "booking" && line.with && (
                    <span className="quiet"> · {line.with.join(", ")}</span>
                  )}
                  {q.kind === "booking" && (
                    <a
                      className="booking-file small"
                      href={`/api/shop/orders/${link}/lines/${line.id}/booking.ics`}
                      download="booking.ics"
                    >
                      {t("For your calendar")}
                    </a>
                  )}
                  <Proofs q={q} value={line.answers[q.key]} text={asked.get(q.key)?.text} />
                </span>
                {!locked && (
                  <button
                    type="button"
                    className="linkish small"
                    onClick={() => {
                      stop();
                      setEditing(q.key);
                    }}
                  >
                    {q.kind === "booking" ? t("Move it") : t("Change")}
                    <span className="sr"> {q.wording}</span>
                  </button>
                )}
              </dd>
            </div>
          );
        })}
      </dl>
      {line.brief === "closed" && (
        <p className="small quiet">{t("The brief is closed. Write to us if something must still change.")}</p>
      )}
    </section>
  );
}
