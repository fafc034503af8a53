import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useNavigate } from "react-router";
import { api, Problem, type Schemas, take } from "../shared/api/client";
import { day, local, money } from "../shared/format";
import { home } from "../shared/home";
import { lost } from "../shared/lost";
import { plainly } from "../shared/plainly";
import { loadFields } from "../shared/questions/fields";
import { QuestionField } from "../shared/questions/QuestionField";
import { faultsOf } from "../shared/questions/types";
import { Trouble } from "../shared/Trouble";
import { TodayContext } from "../shared/today";
import { useChange } from "../shared/useChange";
import { News } from "./News";
import { SignIn } from "./Pass";

export function useMine(enabled = true) {
  return useQuery({
    queryKey: ["mine"],
    queryFn: async () => {
      const mine = await take(api.GET("/api/shop/mine"));
      await loadFields(mine.answers.flatMap((a) => (a.question ? [a.question] : [])));
      return mine;
    },
    enabled,
    retry: false,
  });
}

// Mine is all that belongs to a person who signed in: their orders with what comes of
// them, and what is kept of them for the next one.
export function Mine() {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const mine = useMine();
  const leave = useChange({
    send: () => take(api.DELETE("/api/shop/pass")),
    done: async () => {
      await queries.cancelQueries();
      queries.removeQueries({ queryKey: ["mine"] });
      await queries.invalidateQueries();
    },
  });
  if (mine.error instanceof Problem && mine.error.status === 401)
    return (
      <div className="narrow stack">
        <h1>{t("Your orders")}</h1>
        <SignIn />
      </div>
    );
  if (lost(mine)) return <Trouble error={mine.error} again={() => mine.refetch()} />;
  const m = mine.data;
  if (!m) return null;
  const coming = m.orders
    .flatMap((o) => o.lines.flatMap((l) => (l.booked ? [{ o, l, at: l.booked }] : [])))
    .filter((b) => local(b.at, m.zone).day >= m.today)
    .sort((a, b) => (a.at < b.at ? -1 : 1));
  return (
    <TodayContext.Provider value={m.today}>
      <div className="order stack">
        <div className="row">
          <h1 className="grow">{m.name ? t("Hello, {{name}}", { name: m.name }) : t("Your orders")}</h1>
          <span className="small quiet">{m.email}</span>
          <Button size="small" loading={leave.busy} onClick={() => leave.send()}>
            {t("Sign out")}
          </Button>
        </div>
        {coming.length > 0 && (
          <section className="sheet dates" aria-label={t("What comes")}>
            <h2>{t("What comes")}</h2>
            <dl className="date-list">
              {coming.map(({ o, l, at }) => (
                <div key={`${o.number} ${at}`}>
                  <dt>
                    <strong>
                      {day(local(at, m.zone).day, m.today)}, {local(at, m.zone).time}
                    </strong>
                  </dt>
                  <dd>{l.title}</dd>
                </div>
              ))}
            </dl>
          </section>
        )}
        <section className="stack">
          <h2>{t("Your orders")}</h2>
          {m.orders.length === 0 && (
            <div className="empty">
              {t("Nothing was ordered with this address yet.")} <Link to="/">{t("See what we offer")}</Link>
            </div>
          )}
          {m.orders.map((o) => (
            <Order key={o.number} o={o} zone={m.zone} today={m.today} />
          ))}
        </section>
        {m.files.length > 0 && (
          <section className="sheet stack" aria-label={t("Your files")}>
            <h2>{t("Your files")}</h2>
            <ul className="bare my-list">
              {m.files.map((f) => (
                <File key={f.path} f={f} />
              ))}
            </ul>
          </section>
        )}
        {m.talk.length > 0 && (
          <section className="sheet stack" aria-label={t("Messages")}>
            <h2>{t("Messages")}</h2>
            <ul className="bare my-list">
              {m.talk.map((x) => (
                <Said key={x.talk.id} x={x} zone={m.zone} today={m.today} />
              ))}
            </ul>
          </section>
        )}
        <News
          news={m.news}
          zone={m.zone}
          today={m.today}
          say={(agreed) => take(api.PUT("/api/shop/mine/news", { body: { agreed } }))}
        />
        {m.answers.length > 0 && (
          <section className="sheet stack">
            <h2>{t("What we keep of you")}</h2>
            <p className="small quiet">
              {t("It is filled in when you order again. Change it, or have it forgotten.")}
            </p>
            <dl className="answers">
              {m.answers.map((a) => (
                <Kept key={a.key} a={a} />
              ))}
            </dl>
          </section>
        )}
      </div>
    </TodayContext.Provider>
  );
}

// useOpen gives a link to an order, and goes where it is wanted with it.
function useOpen(number: number, go: (link: string) => void) {
  return useChange({
    once: true,
    send: () => take(api.POST("/api/shop/mine/orders/{number}", { params: { path: { number } } })),
    done: ({ link }) => go(link),
  });
}

function File({ f }: { f: Schemas["MyFile"] }) {
  const { t } = useTranslation();
  const save = useOpen(f.number, (link) =>
    window.location.assign(`${home}/api/shop/orders/${link}/${f.path}?as=download`),
  );
  return (
    <li className="row">
      <span className="grow">
        <strong>{f.file.name}</strong>{" "}
        <span className="small quiet">
          {f.title} · <span className="num">{f.number}</span>
        </span>
      </span>
      <Button size="small" loading={save.busy} onClick={() => save.send()}>
        {t("Save")}
        <span className="sr"> {f.file.name}</span>
      </Button>
      <Trouble error={save.problem} />
    </li>
  );
}

function Said({ x, zone, today }: { x: Schemas["MyTalk"]; zone: string; today: string }) {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const open = useOpen(x.number, (link) => navigate(`/o/${link}#messages`));
  const fresh = !x.talk.customer && !x.talk.read;
  return (
    <li>
      <div className="row small quiet">
        <span className="grow">
          <strong>{x.talk.author}</strong> · {day(local(x.talk.at, zone).day, today)} ·{" "}
          <span className="num">{x.number}</span>{" "}
          {fresh && <span className="mark attention">{t("new")}</span>}
        </span>
        <Button size="small" loading={open.busy} onClick={() => open.send()}>
          {t("Answer")}
        </Button>
      </div>
      <p className="said-words">
        {x.talk.text || t("{{count}} files", { count: x.talk.files?.length ?? 0 })}
      </p>
      <Trouble error={open.problem} />
    </li>
  );
}

function Order({ o, zone, today }: { o: Schemas["MyOrder"]; zone: string; today: string }) {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const open = useOpen(o.number, (link) => navigate(`/o/${link}`));
  return (
    <article className="sheet my-order" data-order={o.number}>
      <div className="row">
        <strong className="num">{o.number}</strong>
        <span className="quiet small">{day(local(o.placed, zone).day, today)}</span>
        <span className="grow" />
        {o.unread > 0 && (
          <span className="mark attention">{t("{{count}} new messages", { count: o.unread })}</span>
        )}
        {o.state === "cancelled" && <span className="mark plain">{t("cancelled")}</span>}
        {o.state === "awaiting" && <span className="mark attention">{t("waits for your transfer")}</span>}
        <span className="num">{money(o.total, o.currency)}</span>
      </div>
      {o.lines.map((l, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a line is known by its place
        <div className="row" key={i}>
          <span className="grow">{l.title}</span>
          {l.missing > 0 && (
            <span className="mark attention">{t("{{count}} answers are missing", { count: l.missing })}</span>
          )}
          {l.handed ? (
            <span className="mark good">{t("handed over")}</span>
          ) : (
            l.promised && (
              <span className="small quiet">{t("ready by {{when}}", { when: day(l.promised, today) })}</span>
            )
          )}
          {l.files && <span className="small quiet">{t("files")}</span>}
        </div>
      ))}
      <div className="row">
        <Button
          loading={open.busy}
          onClick={() => open.send()}
          aria-label={t("Open order {{number}}", { number: o.number })}
        >
          {t("Open the order")}
        </Button>
        <Trouble error={open.problem} />
      </div>
    </article>
  );
}

function Kept({ a }: { a: Schemas["MyAnswer"] }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [value, setValue] = useState<unknown>();
  const keep = useChange({
    send: (answer: unknown) =>
      take(
        api.PUT("/api/shop/mine/answers/{key}", {
          params: { path: { key: a.key } },
          body: { answer: answer as never },
        }),
      ),
    done: (mine) => {
      setValue(undefined);
      queries.setQueryData(["mine"], mine);
    },
  });
  const { question: q } = a;
  const faults = keep.problem instanceof Problem ? faultsOf(keep.problem.errors, a.key) : [];
  if (value !== undefined && q)
    return (
      <div className="answer-edit">
        <QuestionField
          prefix="mine"
          q={q}
          page={{ edition: 0, currency: "" } as Schemas["ProductPage"]}
          value={value}
          onChange={setValue}
          faults={faults}
        />
        {faults.length === 0 && <Trouble error={keep.problem} />}
        <div className="row">
          <Button type="primary" loading={keep.busy} onClick={() => keep.send(value)}>
            {t("Save")}
          </Button>
          <Button onClick={() => setValue(undefined)}>{t("Leave it as it was")}</Button>
        </div>
      </div>
    );
  return (
    <div>
      <dt>{a.wording}</dt>
      <dd>
        <span className="grow answer-words">{plainly(a.answer)}</span>
        <span className="row-acts">
          {q && (
            <button type="button" className="linkish small" onClick={() => setValue(a.answer ?? null)}>
              {t("Change")}
              <span className="sr"> {a.wording}</span>
            </button>
          )}
          <button type="button" className="linkish small" onClick={() => keep.send(null)}>
            {t("Forget")}
            <span className="sr"> {a.wording}</span>
          </button>
        </span>
      </dd>
    </div>
  );
}
