import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { api, type Schemas, take } from "../shared/api/client";
import { money } from "../shared/format";
import { Html } from "../shared/Html";
import { randomName } from "../shared/name";
import { begin } from "../shared/questions/begin";
import { QuestionField } from "../shared/questions/QuestionField";
import { QuestionList } from "../shared/questions/QuestionList";
import { faultsOf } from "../shared/questions/types";
import { Slip } from "../shared/slip/Slip";
import { Trouble } from "../shared/Trouble";
import { useEvaluation } from "../shared/useEvaluation";
import { forget, useBasket, useKept } from "./keep";
import { useKnown } from "./known";

type Typed = { quantity: number; answers: Record<string, unknown>; later: string[] };

const nothing: Typed = { quantity: 1, answers: {}, later: [] };

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
  const [start] = useState(() =>
    editing
      ? { quantity: editing.quantity, answers: editing.answers, later: editing.later ?? [] }
      : { ...nothing, answers: begin(page.questions, params) },
  );
  const [input, setInput] = useKept<Typed>(kept, start);
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
  const evaluation = useEvaluation(input, (body, signal) =>
    take(
      api.POST("/api/shop/products/{slug}/evaluate", { params: { path: { slug: page.slug } }, body, signal }),
    ),
  );
  const bookable = page.people !== undefined;
  const openings = useQuery({
    queryKey: ["openings", page.slug],
    queryFn: () =>
      take(api.GET("/api/shop/products/{slug}/openings", { params: { path: { slug: page.slug } } })),
    enabled: bookable,
    refetchInterval: 30_000,
  });
  const result = evaluation.result;
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
    if (!wanted || evaluation.stale || !result) return;
    setWanted(false);
    putIn();
  });
  const putIn = () => {
    if (!result) return;
    if (!result.ready) {
      setTried(true);
      const first = questions.find((q) => faultsOf(result.faults, q.key).length > 0);
      if (first) setGoTo({ key: first.key });
      // After the messages are drawn.
      requestAnimationFrame(() => {
        const box = document.querySelector(`[data-question="${first?.key}"]`);
        box?.scrollIntoView({ block: "center" });
        box?.querySelector<HTMLElement>("input, textarea, button")?.focus();
      });
      return;
    }
    const line = { product: page.slug, edition: page.edition, ...input };
    if (editing) setBasket((old) => old.map((e) => (e.id === editing.id ? { id: e.id, ...line } : e)));
    else setBasket((old) => [...old, { id: randomName(), ...line }]);
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
  const total =
    result && (evaluation.stale ? t("computing …") : money(result.slip.total, result.slip.currency));
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
      >
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
      </form>
      <aside className="product-slip">
        {result && <Slip slip={result.slip} stale={evaluation.stale} />}
        <Button type="primary" size="large" block onClick={add} disabled={!result}>
          {editing ? t("Keep the changes") : t("Add to basket")}
        </Button>
        {tried && result && !result.ready && (
          <div className="notice attention" role="status">
            {t("{{count}} questions still to answer", { count: result.faults.length })}
          </div>
        )}
      </aside>
      <div className="product-bar">
        <details>
          <summary>
            <strong className="num">{total ?? "…"}</strong>
            <span className="small quiet">{t("see what is in it")}</span>
          </summary>
          {result && <Slip slip={result.slip} stale={evaluation.stale} />}
        </details>
        <Button type="primary" size="large" onClick={add} disabled={!result}>
          {editing ? t("Keep the changes") : t("Add to basket")}
        </Button>
      </div>
    </div>
  );
}
