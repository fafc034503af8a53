import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { api, type Schemas, take } from "../shared/api/client";
import { money } from "../shared/format";
import { Html } from "../shared/Html";
import { randomName } from "../shared/name";
import { pointAt } from "../shared/point";
import { begin } from "../shared/questions/begin";
import { QuestionField } from "../shared/questions/QuestionField";
import { QuestionList } from "../shared/questions/QuestionList";
import { faultsOf } from "../shared/questions/types";
import { type Row, Slip } from "../shared/slip/Slip";
import { Trouble } from "../shared/Trouble";
import { useMarked } from "../shared/useMarked";
import { AddOns } from "./AddOns";
import { type Entry, forget, useBasket, useKept } from "./keep";
import { useKnown } from "./known";
import { type Chosen, nothing, type Typed, taken, useChoosing } from "./useChoosing";

export function ProductPage() {
  const { slug = "" } = useParams();
  const product = useQuery({
    queryKey: ["product", slug],
    queryFn: () => take(api.GET("/api/shop/products/{slug}", { params: { path: { slug } } })),
  });
  if (product.error) return <Trouble error={product.error} again={() => product.refetch()} />;
  if (!product.data) return null;
  return <Choosing page={product.data} key={slug} />;
}

function Choosing({ page }: { page: Schemas["ProductPage"] }) {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const [basket, setBasket] = useBasket();
  const [params, setParams] = useSearchParams();
  const editing = basket.find((e) => e.id === params.get("line"));
  const kept = editing ? `ruvo.line.${editing.id}` : `ruvo.typed.${page.slug}`;
  const [start] = useState(() => {
    const typed = (e: Entry): Typed => ({ quantity: e.quantity, answers: e.answers, later: e.later ?? [] });
    if (!editing) return { ...nothing, answers: begin(page.questions, params) };
    const children = basket.filter((e) => e.of === editing.id);
    return { ...typed(editing), addOns: Object.fromEntries(children.map((e) => [e.product, typed(e)])) };
  });
  const [input, setInput] = useKept<Chosen>(kept, start);
  // A link followed later brings its values too.
  useEffect(() => {
    const came = begin(
      page.questions.filter((q) => q.kind === "link_value"),
      params,
    );
    if (Object.keys(came).length > 0) setInput((old) => ({ ...old, answers: { ...old.answers, ...came } }));
  }, [page, params, setInput]);
  const known = useKnown(page.questions);
  const [goTo, setGoTo] = useState<{ key: string }>();
  const [tried, setTried] = useState(false);
  const [touched, setTouched] = useState<Set<string>>(new Set());
  const evaluation = useChoosing(page, input);
  const slugs = taken(page, input);
  const { root, marked } = useMarked<HTMLFormElement>();
  const bookable = page.people !== undefined;
  const openings = useQuery({
    queryKey: ["openings", page.slug],
    queryFn: () =>
      take(api.GET("/api/shop/products/{slug}/openings", { params: { path: { slug: page.slug } } })),
    enabled: bookable,
    refetchInterval: 30_000,
  });
  const result = evaluation.result?.evaluations[0];
  const slip = evaluation.result?.slip;
  const ready = evaluation.result?.ready ?? false;
  const asked = new Map(result?.asked.map((a) => [a.key, a]));
  const questions = page.questions.filter((q) => q.moment === "choosing" && asked.has(q.key));
  const faults = (key: string) =>
    faultsOf(result?.faults ?? [], key).filter((f) => tried || (touched.has(key) && f.code !== "required"));
  const strange = page.questions.filter(
    (q) => q.kind === "link_value" && q.settings.hidden && faultsOf(result?.faults ?? [], q.key).length > 0,
  );
  const answer = (key: string, value: unknown) => {
    setTouched(new Set(touched).add(key));
    setInput((old) => {
      const answers = { ...old.answers };
      if (value === null) delete answers[key];
      else answers[key] = value;
      return { ...old, answers };
    });
  };
  const defer = (key: string, on: boolean) =>
    setInput((old) => ({
      ...old,
      later: on ? [...old.later.filter((k) => k !== key), key] : old.later.filter((k) => k !== key),
    }));

  // Pressed while the newest answer is still being computed, the button does
  // its work as soon as that is there.
  const [wanted, setWanted] = useState(false);
  const add = () => setWanted(true);
  useEffect(() => {
    if (!wanted || evaluation.stale || !evaluation.result) return;
    setWanted(false);
    putIn();
  });
  const putIn = () => {
    if (!result) return;
    if (!ready) {
      setTried(true);
      const first = questions.find((q) => faultsOf(result.faults, q.key).length > 0);
      if (first) setGoTo({ key: first.key });
      // After the messages are drawn.
      requestAnimationFrame(() => {
        const box = first
          ? document.querySelector(`[data-question="${first.key}"]`)
          : document.querySelector(".add-ons .question-fault, .add-ons");
        box?.scrollIntoView({ block: "center" });
        box?.querySelector<HTMLElement>("input, textarea, button")?.focus();
      });
      return;
    }
    const { addOns, ...main } = input;
    const id = editing?.id ?? randomName();
    const line: Entry = { id, product: page.slug, edition: page.edition, ...main };
    const children: Entry[] = slugs.map((slug) => ({
      id: randomName(),
      of: id,
      product: slug,
      edition: page.add_ons?.find((a) => a.page.slug === slug)?.page.edition,
      ...(addOns?.[slug] ?? nothing),
    }));
    const others = (old: Entry[]) => old.filter((e) => e.of !== id);
    if (editing) {
      setBasket((old) => others(old).flatMap((e) => (e.id === id ? [line, ...children] : [e])));
    } else setBasket((old) => [...old, line, ...children]);
    forget(kept);
    navigate("/basket");
  };
  // What came with the link is left out of the address too, or it would come
  // back with a reload.
  const without = (key: string) => {
    answer(key, null);
    setParams(
      (old) => {
        old.delete(`q.${key}`);
        return old;
      },
      { replace: true },
    );
  };
  const picture = result?.picture || page.picture;
  const total = slip && (evaluation.stale ? t("computing …") : money(slip.total, slip.currency));
  const pageOf = (line: Row) =>
    (line.of ?? 1) > 1 ? page.add_ons?.find((a) => a.page.slug === slugs[(line.of ?? 1) - 2])?.page : page;
  const shownSlip = slip && (
    <Slip
      slip={slip}
      stale={evaluation.stale}
      marked={marked}
      wording={(line) => pageOf(line)?.questions.find((q) => q.key === line.question)?.wording}
      go={(line) => {
        const box = (line.of ?? 1) > 1 && document.querySelector(`[data-line="${pageOf(line)?.slug}"]`);
        setGoTo({ key: line.question ?? "" });
        requestAnimationFrame(() => pointAt(line.question ?? "", box || document));
      }}
    />
  );
  const soldOut = page.sold_out ?? false;
  return (
    <div className="product">
      {picture && (
        <img className="product-picture" src={`/pictures/${picture}`} alt="" width="640" height="400" />
      )}
      <div className="product-words">
        <h1>{page.title}</h1>
        <p className="quiet">{page.summary}</p>
        <Html html={page.description} />
        {page.next && (
          <section className="product-next">
            <h3>{t("What happens next")}</h3>
            <Html html={page.next} />
          </section>
        )}
      </div>
      <form
        className="product-ask"
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
        ref={root}
      >
        {soldOut && (
          <div className="notice attention" role="status">
            {t("This is sold out at the moment.")}
          </div>
        )}
        {!soldOut && page.left !== undefined && (
          <div className="notice attention" role="status">
            {t("Only {{count}} left.", { count: page.left })}
          </div>
        )}
        {evaluation.error !== undefined && <Trouble error={evaluation.error} again={evaluation.again} />}
        {page.most_units > 1 && (
          <div className="question" data-question="quantity">
            <label htmlFor="quantity" className="question-wording">
              {t("How many?")}
            </label>
            <div className="row">
              <Button
                aria-label={t("one less")}
                disabled={input.quantity <= 1}
                onClick={() => setInput((o) => ({ ...o, quantity: o.quantity - 1 }))}
              >
                −
              </Button>
              <output id="quantity" className="num">
                {input.quantity}
              </output>
              <Button
                aria-label={t("one more")}
                disabled={input.quantity >= page.most_units}
                onClick={() => setInput((o) => ({ ...o, quantity: o.quantity + 1 }))}
              >
                +
              </Button>
            </div>
          </div>
        )}
        {strange.map((q) => (
          <div key={q.key} className="notice bad row" role="alert">
            <span className="grow">
              {t("The link that you followed carries something that does not fit here: {{value}}", {
                value: String(input.answers[q.key] ?? ""),
              })}
            </span>
            <Button size="small" onClick={() => without(q.key)}>
              {t("Go on without it")}
            </Button>
          </div>
        ))}
        <QuestionList
          questions={questions}
          goTo={goTo}
          draw={(q) => (
            <QuestionField
              key={q.key}
              q={q}
              page={page}
              quantity={input.quantity}
              value={input.answers[q.key] ?? null}
              onChange={(v) => answer(q.key, v)}
              openings={openings.data}
              asked={asked.get(q.key)}
              faults={faults(q.key)}
              known={known(q, input.answers[q.key], (v) => answer(q.key, v))}
              later={q.later ? { on: input.later.includes(q.key), set: (on) => defer(q.key, on) } : undefined}
            />
          )}
        />
        <AddOns
          page={page}
          chosen={input.addOns ?? {}}
          set={(slug, typed) => setInput((old) => ({ ...old, addOns: { ...old.addOns, [slug]: typed } }))}
          evaluation={(slug) => evaluation.result?.evaluations[slugs.indexOf(slug) + 1]}
          tried={tried}
          fault={tried ? result?.faults.find((f) => f.key === "add_ons")?.message : undefined}
        />
      </form>
      <aside className="product-slip">
        {shownSlip}
        <Button type="primary" size="large" block onClick={add} disabled={!result || soldOut}>
          {editing ? t("Keep the changes") : t("Add to basket")}
        </Button>
        {tried && evaluation.result && !ready && (
          <div className="notice attention" role="status">
            {t("{{count}} questions still to answer", {
              count: evaluation.result.evaluations.reduce((n, e) => n + (e?.faults.length ?? 0), 0),
            })}
          </div>
        )}
      </aside>
      <div className="product-bar">
        <details>
          <summary>
            <strong className="num">{total ?? "…"}</strong>
            <span className="small quiet">{t("see what is in it")}</span>
          </summary>
          {shownSlip}
        </details>
        <Button type="primary" size="large" onClick={add} disabled={!result || soldOut}>
          {editing ? t("Keep the changes") : t("Add to basket")}
        </Button>
      </div>
    </div>
  );
}
