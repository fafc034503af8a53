import { Button } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { money } from "../../shared/format";
import { QuestionField } from "../../shared/questions/QuestionField";
import { QuestionList } from "../../shared/questions/QuestionList";
import { faultsOf } from "../../shared/questions/types";
import { Stepper } from "../../shared/Stepper";
import { nothing, type Typed } from "./useChoosing";

type Props = {
  page: Schemas["ProductPage"];
  chosen: Record<string, Typed>;
  set: (slug: string, typed: Typed) => void;
  // what the answers to an add-on come to, while it is chosen
  evaluation: (slug: string) => Schemas["Evaluation"] | undefined;
  // whether somebody tried to go on with something missing
  tried: boolean;
  // what is wrong with the choice as a whole
  fault?: string;
};

// AddOns offers other products as lines of their own. Once one is chosen, its
// own questions open under it.
export function AddOns({ page, chosen, set, evaluation, tried, fault }: Props) {
  const { t } = useTranslation();
  const addOns = page.add_ons ?? [];
  if (addOns.length === 0) return null;
  return (
    <section className="add-ons" aria-label={page.form ? t("What you can choose") : t("Goes well with it")}>
      <h2 className="question-heading">{page.form ? t("What you can choose") : t("Goes well with it")}</h2>
      {page.together !== undefined && (
        <p className="together">
          {t("One of each costs {{amount}} together.", { amount: money(page.together, page.currency) })}
        </p>
      )}
      {fault && (
        <div className="question-fault" role="alert">
          {fault}
        </div>
      )}
      {addOns.map((a) => {
        const slug = a.page.slug;
        const typed = chosen[slug] ?? { ...nothing, quantity: 0 };
        const count = (quantity: number) => set(slug, { ...typed, quantity });
        const price = money(a.from, a.page.currency);
        const out = a.page.sold_out ?? false;
        return (
          <article key={slug} className={typed.quantity > 0 ? "add-on on" : "add-on"} data-line={slug}>
            {a.page.picture && <img src={`/pictures/${a.page.picture}`} alt="" width="72" height="45" />}
            <div className="grow">
              <strong>{a.page.title}</strong>
              <div className="small quiet">{a.page.summary}</div>
            </div>
            <span className="num choice-hint">
              {out ? t("sold out") : a.fixed ? price : t("from {{price}}", { price })}
            </span>
            <div className="row">
              {typed.quantity === 0 ? (
                <Button disabled={out} onClick={() => count(1)}>
                  {t("Add")}
                  <span className="sr"> {a.page.title}</span>
                </Button>
              ) : (
                <Stepper value={typed.quantity} least={0} most={a.most} what={a.page.title} onChange={count}>
                  <output className="num">{typed.quantity}</output>
                </Stepper>
              )}
            </div>
            {typed.quantity > 0 && (
              <Asked
                page={a.page}
                first={a.asked}
                typed={typed}
                set={(next) => set(slug, next)}
                evaluation={evaluation(slug)}
                tried={tried}
              />
            )}
          </article>
        );
      })}
    </section>
  );
}

type AskedProps = {
  first: Schemas["AskedQuestion"][];
  page: Schemas["ProductPage"];
  typed: Typed;
  set: (typed: Typed) => void;
  evaluation?: Schemas["Evaluation"];
  tried: boolean;
};

function Asked({ page, first, typed, set, evaluation, tried }: AskedProps) {
  // As long as nothing of it is computed, what it asks at first, so that it
  // does not arrive under the finger that already aims at the next one.
  const asked = new Map((evaluation?.asked ?? first).map((a) => [a.key, a]));
  const questions = page.questions.filter((q) => q.moment === "choosing" && asked.has(q.key));
  if (questions.length === 0) return null;
  return (
    <div className="add-on-asks">
      <QuestionList
        questions={questions}
        draw={(q) => (
          <QuestionField
            key={q.key}
            prefix={page.slug}
            q={q}
            page={page}
            quantity={typed.quantity}
            value={typed.answers[q.key] ?? null}
            onChange={(value) => {
              const answers = { ...typed.answers };
              if (value === null) delete answers[q.key];
              else answers[q.key] = value;
              set({ ...typed, answers });
            }}
            asked={asked.get(q.key)}
            faults={faultsOf(evaluation?.faults ?? [], q.key).filter((f) => tried || f.code !== "required")}
            later={
              q.later
                ? {
                    on: typed.later.includes(q.key),
                    set: (on) =>
                      set({
                        ...typed,
                        later: on ? [...typed.later, q.key] : typed.later.filter((k) => k !== q.key),
                      }),
                  }
                : undefined
            }
          />
        )}
      />
    </div>
  );
}
