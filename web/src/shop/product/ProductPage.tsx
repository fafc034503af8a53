import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { useDaysOf } from "../../shared/days/ofProduct";
import { Html } from "../../shared/Html";
import { lost } from "../../shared/lost";
import { pointAt } from "../../shared/point";
import { loadFields } from "../../shared/questions/fields";
import { QuestionField } from "../../shared/questions/QuestionField";
import { QuestionList } from "../../shared/questions/QuestionList";
import { faultsOf } from "../../shared/questions/types";
import { Foreseen, withDays } from "../../shared/slip/Foreseen";
import { type Row, Slip } from "../../shared/slip/Slip";
import { Trouble } from "../../shared/Trouble";
import { useMarked } from "../../shared/useMarked";
import { useKnown } from "../known";
import { Promises } from "../Promises";
import { useCounting } from "../useCounting";
import { useFilled } from "../useFilled";
import { AddOns } from "./AddOns";
import { Buy } from "./Buy";
import { Left, OtherCurrency, Quantity, Strange, Whole } from "./Parts";
import { bookingKey, Turn } from "./Turn";
import { useBasketLine } from "./useBasketLine";
import { taken, useChoosing } from "./useChoosing";

export function ProductPage() {
  const { t } = useTranslation();
  const { slug = "" } = useParams();
  const product = useQuery({
    queryKey: ["product", slug],
    queryFn: async () => {
      const page = await take(api.GET("/api/shop/products/{slug}", { params: { path: { slug } } }));
      const others = page.add_ons?.flatMap((a) => a.page.questions) ?? [];
      await loadFields([...page.questions, ...others]);
      return page;
    },
  });
  if (lost(product)) {
    return (
      <div className="narrow stack">
        <Trouble error={product.error} again={() => product.refetch()} />
        <p>
          <Link to="/">{t("See what we offer")}</Link>
        </p>
      </div>
    );
  }
  if (!product.data) return <div className="product" />;
  return <Choosing page={product.data} key={slug} />;
}

// Choosing asks what a customer decides while choosing, with the slip beside it.
function Choosing({ page }: { page: Schemas["ProductPage"] }) {
  const { t } = useTranslation();
  const line = useBasketLine(page);
  const { input, setInput, answer, defer, touched } = line;
  const [goTo, setGoTo] = useState<{ key: string }>();
  const [tried, setTried] = useState(false);
  const known = useKnown(page.questions);
  useFilled(
    page.questions.map((q) => ({ at: "", q, value: input.answers[q.key] })),
    (_, key, kept) => answer(key, kept),
  );
  const evaluation = useChoosing(page, input);
  const slugs = taken(page, input);
  const { root, marked } = useMarked<HTMLFormElement>();
  const days = useDaysOf(page, input);
  const { count } = useCounting(root, page, true);
  const { came } = line;
  useEffect(() => count(came ? "returned" : "opened"), [count, came]);
  const result = evaluation.result?.evaluations[0];
  const slip = evaluation.result?.slip;
  const asked = new Map(result?.asked.map((a) => [a.key, a]));
  const rushes = JSON.stringify(result?.rushes);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only when a day changes is a question drawn again
  const dated = useMemo(
    () => page.questions.map((q) => withDays(q, result, (when) => t("ready by {{when}}", { when }))),
    [page, rushes, t],
  );
  const questions = dated.filter((q) => q.moment === "choosing" && asked.has(q.key));
  const faults = (key: string) =>
    faultsOf(result?.faults ?? [], key).filter((f) => tried || (touched.has(key) && f.code !== "required"));
  const putIn = () => {
    if (!result) return;
    if (evaluation.result?.ready) {
      if (!line.editing) count("added");
      line.putIn();
      return;
    }
    setTried(true);
    const first = questions.find((q) => faultsOf(result.faults, q.key).length > 0);
    if (first) setGoTo({ key: first.key });
    // After the messages are drawn and the slip is folded.
    requestAnimationFrame(() => {
      const box = first
        ? document.querySelector(`[data-question="${first.key}"]`)
        : document.querySelector(".product-whole, .add-ons .question-fault, .add-ons");
      box?.scrollIntoView({ block: "center" });
      box?.querySelector<HTMLElement>("input, textarea, button")?.focus({ preventScroll: true });
    });
  };
  const pageOf = (row: Row) =>
    (row.of ?? 1) > 1 ? page.add_ons?.find((a) => a.page.slug === slugs[(row.of ?? 1) - 2])?.page : page;
  const picture = result?.picture || page.picture;
  return (
    <div className="product">
      {picture && (
        <img className="product-picture" src={`/pictures/${picture}`} alt="" width="640" height="400" />
      )}
      <Words page={page} />
      <form
        className="product-ask"
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          putIn();
        }}
        ref={root}
      >
        <OtherCurrency page={page} />
        <Turn page={page} put={(v) => page.booking && answer(bookingKey(page), v)} />
        <Left page={page} />
        {evaluation.error !== undefined && <Trouble error={evaluation.error} again={evaluation.again} />}
        {page.most_units > 1 && (
          <Quantity
            value={input.quantity}
            most={page.most_units}
            set={(by) => setInput((o) => ({ ...o, quantity: o.quantity + by }))}
          />
        )}
        <Strange page={page} faults={result?.faults ?? []} answers={input.answers} drop={line.without} />
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
              days={days}
              asked={asked.get(q.key)}
              faults={faults(q.key)}
              known={known(q, input.answers[q.key], (v) => answer(q.key, v))}
              later={q.later ? { on: input.later.includes(q.key), set: (on) => defer(q.key, on) } : undefined}
            />
          )}
        />
        {result && (
          <AddOns
            page={page}
            chosen={input.addOns ?? {}}
            set={(slug, typed) => setInput((old) => ({ ...old, addOns: { ...old.addOns, [slug]: typed } }))}
            evaluation={(slug) => evaluation.result?.evaluations[slugs.indexOf(slug) + 1]}
            tried={tried}
            // Gone at once when something is chosen, and not a moment later under the finger.
            fault={
              tried && !evaluation.stale ? result.faults.find((f) => f.key === "add_ons")?.message : undefined
            }
          />
        )}
        {/* Behind what is asked, which it would push away. */}
        <Whole
          faults={(result?.faults ?? []).filter(
            (f) => f.key === "quantity" && (tried || f.code !== "measure_none"),
          )}
        />
      </form>
      <Buy
        page={page}
        evaluation={evaluation}
        editing={line.editing}
        missing={
          tried && evaluation.result && !evaluation.result.ready
            ? evaluation.result.evaluations.reduce((n, e) => n + (e?.faults.length ?? 0), 0)
            : 0
        }
        putIn={putIn}
        slip={
          slip && (
            <Slip
              slip={slip}
              stale={evaluation.stale}
              marked={marked}
              wording={(row) => pageOf(row)?.questions.find((q) => q.key === row.question)?.wording}
              go={(row) => {
                const box = (row.of ?? 1) > 1 && document.querySelector(`[data-line="${pageOf(row)?.slug}"]`);
                setGoTo({ key: row.question ?? "" });
                requestAnimationFrame(() => pointAt(row.question ?? "", box || document));
              }}
            />
          )
        }
        promise={<Foreseen promise={result?.promise} />}
        ready={result?.promise?.words}
      />
    </div>
  );
}

// Words says what the product is and what happens next.
function Words({ page }: { page: Schemas["ProductPage"] }) {
  const { t } = useTranslation();
  return (
    <div className="product-words">
      <h1>{page.title}</h1>
      <p className="quiet">{page.summary}</p>
      <Html html={page.description} />
      <Promises pages={[page]} />
      {page.next && (
        <section className="product-next">
          <h3>{t("What happens next")}</h3>
          <Html html={page.next} />
        </section>
      )}
    </div>
  );
}
