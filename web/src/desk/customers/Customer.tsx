import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useSearchParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, local, money } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { lost } from "../../shared/lost";
import { plainly } from "../../shared/plainly";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";
import { BriefMark } from "../orders/Orders";
import { OrderTabs } from "../Tabs";
import { customerPage } from "./Customers";
import { GroupPick, groupsAsked } from "./GroupPick";
import { News } from "./News";

type Person = Schemas["CustomerPage"];

// Customer is a person: what they ordered, paid and gave, what is kept and noted of
// them, and what they wrote.
export function Customer() {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const [params] = useSearchParams();
  const email = params.get("email") ?? "";
  const queries = useQueryClient();
  const person = useQuery({
    queryKey: ["customer", email],
    queryFn: async () => {
      const [person] = await Promise.all([
        take(api.GET("/api/desk/customer", { params: { query: { email } } })),
        queries.ensureQueryData(groupsAsked).catch(() => undefined), // so that they push nothing away
      ]);
      return person;
    },
    retry: false,
  });
  if (lost(person))
    return (
      <main className="desk-page">
        <OrderTabs />
        <Trouble error={person.error} again={() => person.refetch()} />
      </main>
    );
  const p = person.data;
  if (!p) return null;
  const when = (instant: string) => day(local(instant, session.zone).day, today);
  const consents = p.answers.filter((a) => a.consent);
  const kept = p.answers.filter((a) => !a.consent);
  return (
    <main className="desk-page wide">
      <div className="row">
        <h1>{p.name || p.email}</h1>
        {p.group && <span className="mark plain">{p.group}</span>}
      </div>
      <OrderTabs />
      <p>
        <a href={`mailto:${p.email}`}>{p.email}</a>
        {p.others.map((o) => (
          <span key={o}>
            {" · "}
            <a href={`mailto:${o}`}>{o}</a> <Part email={o} main={p.email} />
          </span>
        ))}
      </p>
      <div className="customer-columns">
        <div className="stack">
          <section>
            <h2>{t("Orders")}</h2>
            {p.orders.length === 0 && <div className="empty">{t("Nothing was ordered yet.")}</div>}
            {p.orders.map((o) => (
              <div key={o.number} className="customer-order">
                <div className="row">
                  <Link to={`/orders/${o.lines[0]?.line}`} className="num">
                    {o.number}
                  </Link>
                  <span className="small quiet">{when(o.placed)}</span>
                  <span className="grow" />
                  {o.state === "cancelled" && <span className="mark plain">■ {t("cancelled")}</span>}
                  {o.state === "awaiting" && (
                    <span className="mark attention">◔ {t("waits for its transfer")}</span>
                  )}
                  <span className="num">{money(o.total, o.currency)}</span>
                </div>
                {o.lines.map((l) => (
                  <div key={l.line} className="row small">
                    <Link to={`/orders/${l.line}`} className="grow">
                      {l.title}
                    </Link>
                    {l.booked && (
                      <span className="num">
                        {when(l.booked)}, {local(l.booked, session.zone).time}
                      </span>
                    )}
                    {l.cancelled ? (
                      <span className="quiet">{t("cancelled")}</span>
                    ) : l.handed ? (
                      <span className="quiet">{t("handed over")}</span>
                    ) : (
                      o.state === "placed" && <BriefMark brief={l.brief} />
                    )}
                  </div>
                ))}
              </div>
            ))}
          </section>
          <section>
            <h2>{t("Messages")}</h2>
            {p.talk.length === 0 && <div className="empty">{t("Nothing was written yet.")}</div>}
            {p.talk.map((m) => (
              <div key={m.talk.id} className="said">
                <div className="small quiet">
                  <strong>{m.talk.author}</strong> · {when(m.talk.at)} ·{" "}
                  <Link to={`/orders/${m.line}#messages`} className="num">
                    {m.number}
                  </Link>
                </div>
                <p className="said-words">
                  {m.talk.text || t("{{count}} files", { count: m.talk.files?.length ?? 0 })}
                </p>
              </div>
            ))}
          </section>
        </div>
        <aside className="stack">
          {p.money.map((m) => (
            <dl key={m.currency} className="figures sheet">
              <Figure name={t("Orders")} value={String(m.orders)} />
              <Figure name={t("Paid")} value={money(m.paid, m.currency)} />
              <Figure name={t("Given back to them")} value={money(m.returned, m.currency)} />
              <Figure name={t("Given on top")} value={money(m.given, m.currency)} />
            </dl>
          ))}
          <GroupPick email={p.email} group={p.group} />
          <Noted key={p.email} p={p} />
          <News p={p} when={when} />
          {consents.length > 0 && (
            <section className="sheet">
              <h3>{t("Agreed to")}</h3>
              {consents.map((a) => (
                <div key={a.key}>
                  {a.wording} <span className="small quiet">{when(a.at)}</span>
                </div>
              ))}
            </section>
          )}
          {kept.length > 0 && (
            <section className="sheet">
              <h3>{t("Kept for the next order")}</h3>
              {kept.map((a) => (
                <div key={a.key}>
                  <span className="quiet">{a.wording}:</span> {plainly(a.answer)}{" "}
                  <span className="small quiet">{when(a.at)}</span>
                </div>
              ))}
            </section>
          )}
          {p.doubles.length > 0 && (
            <section className="sheet stack">
              <h3>{t("Perhaps the same person")}</h3>
              {p.doubles.map((x) => (
                <Double key={x.email} x={x} into={p.email} />
              ))}
            </section>
          )}
        </aside>
      </div>
    </main>
  );
}

function Figure({ name, value }: { name: string; value: string }) {
  return (
    <div className="row">
      <dt className="grow quiet">{name}</dt>
      <dd className="num">{value}</dd>
    </div>
  );
}

function useMerge() {
  const queries = useQueryClient();
  return useChange({
    once: true,
    send: (body: Schemas["CustomerMerge"]) => take(api.POST("/api/desk/customers/merge", { body })),
    refreshes: ["customers", "customer"],
    done: (p) => queries.setQueryData(["customer", p.email], p),
  });
}

function Double({ x, into }: { x: Schemas["CustomerRow"]; into: string }) {
  const { t } = useTranslation();
  const merge = useMerge();
  return (
    <div className="row">
      <span className="grow">
        <Link to={customerPage(x.email)}>{x.email}</Link>{" "}
        <span className="small quiet">{t("{{count}} orders", { count: x.orders })}</span>
      </span>
      <Button size="small" loading={merge.busy} onClick={() => merge.send({ email: x.email, into })}>
        {t("It is the same person")}
      </Button>
      <Trouble error={merge.problem} />
    </div>
  );
}

function Part({ email, main }: { email: string; main: string }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const merge = useMerge();
  return (
    <Button
      size="small"
      loading={merge.busy}
      onClick={async () => {
        await merge.send({ email });
        queries.invalidateQueries({ queryKey: ["customer", main] });
      }}
    >
      {t("Is somebody else")}
    </Button>
  );
}

// Noted is what only the seller knows of a person.
function Noted({ p }: { p: Person }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [note, setNote] = useState(p.note);
  const [facts, setFacts] = useState(p.facts);
  const keep = useChange({
    send: () => take(api.PUT("/api/desk/customer", { body: { email: p.email, name: p.name, note, facts } })),
    refreshes: ["customers"],
    done: (next) => queries.setQueryData(["customer", p.email], next),
  });
  const changed = note !== p.note || JSON.stringify(facts) !== JSON.stringify(p.facts);
  const fact = (i: number, part: Partial<Person["facts"][number]>) =>
    setFacts((old) => old.map((f, k) => (k === i ? { ...f, ...part } : f)));
  return (
    <form
      className="sheet stack"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        keep.send();
      }}
    >
      <h3>{t("Only you see this")}</h3>
      <Labelled id="customer-note" wording={t("Note")} fault={keep.of("note")}>
        <Input.TextArea
          id="customer-note"
          rows={3}
          maxLength={5000}
          value={note}
          onChange={(e) => setNote(e.target.value)}
        />
      </Labelled>
      {facts.map((f, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a fact is known by its place
        <div className="row" key={i}>
          <Input
            className="fact-name"
            aria-label={t("What")}
            placeholder={t("What")}
            maxLength={100}
            value={f.name}
            onChange={(e) => fact(i, { name: e.target.value })}
          />
          <Input
            className="grow"
            aria-label={f.name || t("Value")}
            maxLength={500}
            value={f.value}
            onChange={(e) => fact(i, { value: e.target.value })}
          />
          <Button
            aria-label={t("Take {{what}} away", { what: f.name })}
            onClick={() => setFacts((old) => old.filter((_, k) => k !== i))}
          >
            ×
          </Button>
        </div>
      ))}
      {keep.of("facts") && <div className="question-fault">{keep.of("facts")}</div>}
      <div className="row">
        <Button size="small" onClick={() => setFacts((old) => [...old, { name: "", value: "" }])}>
          {t("Add a fact")}
        </Button>
        <span className="grow" />
        {changed && (
          <Button type="primary" size="small" htmlType="submit" loading={keep.busy}>
            {t("Keep it")}
          </Button>
        )}
        {!changed && keep.done && (
          <span className="small quiet" role="status">
            ✓ {t("saved")}
          </span>
        )}
      </div>
      {!keep.of("note") && !keep.of("facts") && <Trouble error={keep.problem} />}
    </form>
  );
}
