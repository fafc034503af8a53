import { Button, Input } from "antd";
import { Fragment, type ReactNode, useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import { Link, useNavigate } from "react-router";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { Labelled } from "../../shared/Labelled";
import { QuestionField } from "../../shared/questions/QuestionField";
import { QuestionList } from "../../shared/questions/QuestionList";
import { faultsOf } from "../../shared/questions/types";
import { withDays } from "../../shared/slip/Foreseen";
import { useChange } from "../../shared/useChange";
import { useKept } from "../../shared/useKept";
import { Heading } from "../Heading";
import { type Extras, linesOf, ordered, type Person, personKey, useBasket, useExtras } from "../keep";
import { useKnown } from "../known";
import type { Step } from "../pay/Pay";
import { useCounting } from "../useCounting";
import { useFilled } from "../useFilled";
import { Agreements } from "./Agreements";
import { Missing } from "./Missing";
import { Progress, useSteps } from "./steps";
import { Buyer, ForSomebody, Tip } from "./WholeOrder";
import "./checkout.css";

// preview: only looked at, as on the desk where it is laid out
type Props = Step & { again?: () => void; preview?: boolean };

// About asks who somebody is, what the products ask while paying, and what belongs to the
// whole order, as the seller laid it out.
export function About({ name, view, stale, again, preview }: Props) {
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
  const texts = view?.agreements ?? [];
  const prepare = useChange({
    send: () =>
      take(
        api.PUT("/api/shop/checkouts/{checkout}", {
          params: { path: { checkout: name } },
          body: {
            ...person,
            ...asked(extras, view),
            terms: texts.find((x) => x.kind === "terms")?.version,
            lines: linesOf(basket),
          },
        }),
      ),
    done: () => navigate("/checkout?step=pay"),
    refused: (e) => {
      // A payment of this checkout is under way: the next step shows how far.
      if (e instanceof Problem && e.code === "paying") navigate("/checkout?step=pay");
      // What is agreed to changed meanwhile, and is shown as it is now.
      if (e instanceof Problem && (e.of("terms") || e.of("news"))) again?.();
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
  // What products ask stands as the seller arranged it; what they did not name, behind.
  const arranged = view?.arrangement?.questions ?? [];
  const rank = (key: string) => (arranged.includes(key) ? arranged.indexOf(key) : arranged.length);
  const told = problem instanceof Problem ? problem : undefined;
  const products = basket.map((entry, i) => {
    const line = view?.lines[i];
    if (!line?.page || line.product !== entry.product) return null;
    const page = line.page;
    const asked = new Map(line.evaluation?.asked.map((a) => [a.key, a]));
    const questions = page.questions
      .filter((q) => q.moment === "paying" && asked.has(q.key) && (q.scope !== "order" || first(q.key) === i))
      .sort((a, b) => rank(a.key) - rank(b.key))
      .map((q) => withDays(q, line.evaluation, (when) => t("ready by {{when}}", { when })));
    if (questions.length === 0) return null;
    return (
      <Counted key={entry.id} page={page} at={i}>
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
  });
  const parts: Record<string, ReactNode> = {
    person: (
      <>
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
      </>
    ),
    products: products.some((p) => p !== null) && products,
    recipient: view && <ForSomebody problem={told} />,
    business: view?.asking.business && <Buyer view={view} problem={told} />,
    texts: texts.length > 0 && <Agreements texts={texts} problem={told} />,
    tip: view?.asking.tip && <Tip tip={view.asking.tip} currency={view.slip.currency} faults={view.faults} />,
  };
  const steps = useSteps(view?.arrangement, parts, preview);
  return (
    <form
      className="stack"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        if (!steps.last) steps.go(steps.at + 1);
        else if (!preview) prepare.send();
      }}
    >
      <Heading at={steps.at + 1} of={steps.groups.length + 1}>
        {t("About you")}
      </Heading>
      {steps.groups.length > 1 && <Progress steps={steps} />}
      <Missing problem={problem} basket={basket} view={view} reveal={steps.reveal} />
      {steps.groups.map((group, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a step is known by its place; another key would take what is typed away
        <div key={i} className="stack" data-step={i} hidden={i !== steps.at}>
          {group.map((name) => (
            <Fragment key={name}>{parts[name]}</Fragment>
          ))}
        </div>
      ))}
      {view && ( // what is still asked would push it down
        <div className="row">
          {steps.at > 0 && (
            <Button size="large" onClick={() => steps.go(steps.at - 1)}>
              {t("Back")}
            </Button>
          )}
          <Button
            type="primary"
            size="large"
            htmlType="submit"
            loading={prepare.busy}
            disabled={stale && steps.last}
          >
            {steps.last ? t("Go on to the payment") : t("Go on")}
          </Button>
          <Link to="/basket">{t("Back to the basket")}</Link>
        </div>
      )}
    </form>
  );
}

// asked gives of what was typed for the whole order what is asked: what the seller left
// out since would be in nobody's sight.
function asked(extras: Extras, view: Schemas["BasketView"] | undefined): Extras {
  const off = (name: string) => view?.arrangement?.sections?.some((s) => s.name === name && s.off);
  return {
    coupons: off("coupon") ? [] : extras.coupons,
    tip: view?.asking.tip ? extras.tip : undefined,
    buyer: view?.asking.business ? extras.buyer : undefined,
    recipient: off("recipient") ? undefined : extras.recipient,
    news: view?.agreements.some((x) => x.kind === "news") ? extras.news : undefined,
  };
}

// Counted counts how far customers come with what is asked of a product here.
type CountedProps = { page: Schemas["ProductPage"]; at: number; children: ReactNode };

function Counted({ page, at, children }: CountedProps) {
  const root = useRef<HTMLElement>(null);
  useCounting(root, page);
  return (
    <section ref={root} data-line={at}>
      {children}
    </section>
  );
}
