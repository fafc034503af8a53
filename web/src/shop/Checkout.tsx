import { Button, Input } from "antd";
import { type ReactNode, useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import { Link, useNavigate, useSearchParams } from "react-router";
import { api, Problem, type Schemas, take } from "../shared/api/client";
import { Labelled } from "../shared/Labelled";
import { randomName } from "../shared/name";
import { QuestionField } from "../shared/questions/QuestionField";
import { QuestionList } from "../shared/questions/QuestionList";
import { faultsOf } from "../shared/questions/types";
import { Foreseen, withDays } from "../shared/slip/Foreseen";
import { Slip } from "../shared/slip/Slip";
import { Trouble } from "../shared/Trouble";
import { useChange } from "../shared/useChange";
import { useKept } from "../shared/useKept";
import { useMarked } from "../shared/useMarked";
import { useBasketView, wordingIn } from "./Basket";
import { CancelTerms } from "./CancelTerms";
import { CouponBox } from "./CouponBox";
import { Heading } from "./Heading";
import {
  checkoutKey,
  type Entry,
  linesOf,
  ordered,
  type Person,
  personKey,
  useBasket,
  useExtras,
} from "./keep";
import { useKnown } from "./known";
import { Pay, type Step } from "./pay/Pay";
import { useCounting } from "./useCounting";
import { useFilled } from "./useFilled";
import { WholeOrder } from "./WholeOrder";

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
  return (
    <div className="two-columns">
      <div className="stack" ref={root}>
        {view.error !== undefined && <Trouble error={view.error} again={view.again} />}
        {paying ? (
          <Pay name={name} view={view.result} stale={view.stale} />
        ) : (
          <About name={name} view={view.result} stale={view.stale} />
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
        <CancelTerms sets={view.result?.cancelling} />
        {/* before the slip is there, it would be pushed down */}
        {!paying && (view.result || view.error !== undefined) && (
          <CouponBox coupons={view.result?.coupons} currency={view.result?.slip.currency ?? ""} />
        )}
      </aside>
    </div>
  );
}

function About({ name, view, stale }: Step) {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const [kept, setBasket] = useBasket();
  const basket = ordered(kept);
  const [extras] = useExtras();
  const [person, setPerson] = useKept<Person>(personKey, { name: "", email: "" });
  // What belongs to the whole order is asked once and answered on all lines.
  const wide = (i: number, key: string) =>
    view?.lines[i]?.page?.questions.find((q) => q.key === key)?.scope === "order";
  const first = (key: string) => basket.findIndex((_, i) => wide(i, key));
  const answer = (id: string, key: string, value: unknown) => {
    const at = basket.findIndex((e) => e.id === id);
    prepare.forget(`lines.${at}.${key}`);
    setBasket((old) =>
      ordered(old).map((e, i) => {
        const here = e.id === id || (wide(i, key) && old.some((x, n) => x.id === id && wide(n, key)));
        if (!here) return e;
        const answers = { ...e.answers };
        if (value === null) delete answers[key];
        else answers[key] = value;
        return { ...e, answers };
      }),
    );
  };
  // What may wait blocks no sale: it is answered on the order page.
  const defer = (id: string, key: string, on: boolean) => {
    prepare.forget(`lines.${basket.findIndex((e) => e.id === id)}.${key}`);
    setBasket((old) =>
      ordered(old).map((e, i) => {
        const here = e.id === id || (wide(i, key) && old.some((x, n) => x.id === id && wide(n, key)));
        if (!here) return e;
        const others = (e.later ?? []).filter((k) => k !== key);
        return { ...e, later: on ? [...others, key] : others };
      }),
    );
  };
  const prepare = useChange({
    send: () =>
      take(
        api.PUT("/api/shop/checkouts/{checkout}", {
          params: { path: { checkout: name } },
          body: { ...person, ...extras, lines: linesOf(basket) },
        }),
      ),
    done: () => navigate("/checkout?step=pay"),
    refused: (e) => {
      // A payment of this checkout is under way: the next step shows how far.
      if (e instanceof Problem && e.code === "paying") navigate("/checkout?step=pay");
    },
  });
  const { of, problem } = prepare;
  const known = useKnown(view?.lines.flatMap((l) => l.page?.questions ?? []) ?? []);
  const mine = useFilled(
    basket.flatMap((entry, i) =>
      (view?.lines[i]?.page?.questions ?? [])
        .filter((q) => q.moment === "paying")
        .map((q) => ({ at: entry.id, q, value: entry.answers[q.key] })),
    ),
    answer,
  );
  useEffect(() => {
    if (mine) setPerson((old) => ({ name: old.name || mine.name, email: old.email || mine.email }));
  }, [mine, setPerson]);
  const elsewhere =
    problem instanceof Problem
      ? problem.errors.filter((e) => {
          const [, i, key] = e.key.split(".");
          if (!e.key.startsWith("lines.")) return e.key.startsWith("coupons.");
          return view?.lines[Number(i)]?.page?.questions.find((q) => q.key === key)?.moment !== "paying";
        })
      : [];
  return (
    <form
      className="stack"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        prepare.send();
      }}
    >
      <Heading at={1}>{t("About you")}</Heading>
      <Trouble error={problem} />
      {elsewhere.length > 0 && (
        <div className="notice bad">
          {elsewhere.map((e) => {
            const [, i, key] = e.key.split(".");
            const page = view?.lines[Number(i)]?.page;
            if (!page) return <div key={e.key}>{e.message}</div>;
            return (
              <div key={e.key}>
                {page.title} · {page.questions.find((q) => q.key === key)?.wording ?? t("How many?")}:{" "}
                {e.message} <Link to={changeAt(basket, Number(i))}>{t("Change")}</Link>
              </div>
            );
          })}
        </div>
      )}
      <Labelled id="name" wording={t("Your name")} fault={of("name")}>
        <Input
          id="name"
          autoComplete="name"
          value={person.name}
          status={of("name") ? "error" : undefined}
          aria-describedby={of("name") && "name-fault"}
          onChange={(e) => setPerson({ ...person, name: e.target.value })}
        />
      </Labelled>
      <Labelled
        id="email"
        wording={t("Mail address")}
        help={t("The link to your order page goes there.")}
        fault={of("email")}
      >
        <Input
          id="email"
          type="email"
          autoComplete="email"
          value={person.email}
          status={of("email") ? "error" : undefined}
          aria-describedby={of("email") && "email-fault"}
          onChange={(e) => setPerson({ ...person, email: e.target.value })}
        />
      </Labelled>
      {basket.map((entry, i) => {
        const line = view?.lines[i];
        if (!line?.page || line.product !== entry.product) return null;
        const page = line.page;
        const asked = new Map(line.evaluation?.asked.map((a) => [a.key, a]));
        const questions = page.questions
          .filter(
            (q) => q.moment === "paying" && asked.has(q.key) && (q.scope !== "order" || first(q.key) === i),
          )
          .map((q) => withDays(q, line.evaluation, (when) => t("ready by {{when}}", { when })));
        if (questions.length === 0) return null;
        return (
          <Counted key={entry.id} page={page}>
            <h2 className="question-heading">{page.title}</h2>
            <QuestionList
              questions={questions}
              draw={(q) => (
                <QuestionField
                  key={q.key}
                  prefix={`l${i}`}
                  q={q}
                  page={page}
                  quantity={entry.quantity}
                  value={entry.answers[q.key] ?? null}
                  onChange={(v) => answer(entry.id, q.key, v)}
                  asked={asked.get(q.key)}
                  faults={problem instanceof Problem ? faultsOf(problem.errors, `lines.${i}.${q.key}`) : []}
                  later={
                    q.later
                      ? {
                          on: entry.later?.includes(q.key) ?? false,
                          set: (on) => defer(entry.id, q.key, on),
                        }
                      : undefined
                  }
                  known={known(q, entry.answers[q.key], (v) => answer(entry.id, q.key, v))}
                />
              )}
            />
          </Counted>
        );
      })}
      {view && <WholeOrder view={view} problem={problem instanceof Problem ? problem : undefined} />}
      {view && ( // what is still asked would push it down
        <div className="row">
          <Button type="primary" size="large" htmlType="submit" loading={prepare.busy} disabled={stale}>
            {t("Go on to the payment")}
          </Button>
          <Link to="/basket">{t("Back to the basket")}</Link>
        </div>
      )}
    </form>
  );
}

// Counted counts how far customers come with what is asked of a product here.
function Counted({ page, children }: { page: Schemas["ProductPage"]; children: ReactNode }) {
  const root = useRef<HTMLElement>(null);
  useCounting(root, page);
  return <section ref={root}>{children}</section>;
}

// changeAt is where a line of the basket can be changed; an add-on is changed
// with what it is of.
function changeAt(basket: Entry[], i: number) {
  const entry = basket[i];
  const main = basket.find((e) => e.id === entry?.of) ?? entry;
  return `/p/${main?.product}?line=${main?.id}`;
}
