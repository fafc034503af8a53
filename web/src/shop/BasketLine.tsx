import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Schemas } from "../shared/api/client";
import { shown } from "../shared/questions/fields";
import { Proofs } from "../shared/questions/Proofs";
import { QuestionField } from "../shared/questions/QuestionField";
import { faultsOf } from "../shared/questions/types";
import { Foreseen } from "../shared/slip/Foreseen";
import type { Entry } from "./keep";

type Props = {
  entry: Entry;
  view?: Schemas["BasketLineView"];
  remove: () => void;
  double: () => void;
  change: (part: (old: Entry) => Partial<Entry>) => void;
};

// BasketLine is a line of the basket: how many, and what was answered, each to be
// changed where it stands.
export function BasketLine({ entry, view, remove, double, change }: Props) {
  const { t } = useTranslation();
  const [editing, setEditing] = useState<string>();
  const page = view?.page;
  const wrong = view?.evaluation?.faults.filter(
    (f) => page?.questions.find((q) => q.key === f.key)?.moment === "choosing" || f.key === "quantity",
  );
  const question = (key: string) => page?.questions.find((q) => q.key === key);
  const wording = (key: string) => question(key)?.wording ?? key;
  const set = (key: string, value: unknown) =>
    change((old) => {
      const answers = { ...old.answers };
      if (value === null) delete answers[key];
      else answers[key] = value;
      return { answers };
    });
  const most = page?.most_units ?? 1;
  return (
    <article className={entry.of ? "sheet basket-line of" : "sheet basket-line"}>
      {page?.picture && <img src={`/pictures/${page.picture}`} alt="" width="96" height="60" />}
      <div className="grow">
        <div className="row">
          <h2 className="grow">{page?.title ?? entry.product}</h2>
          {page && !entry.of && (
            <>
              <Link to={`/p/${entry.product}?line=${entry.id}`}>{t("Change")}</Link>
              <button type="button" className="linkish" onClick={double}>
                {t("Once more")}
                <span className="sr"> {page.title}</span>
              </button>
            </>
          )}
          <button type="button" className="linkish" onClick={remove}>
            {t("Take out")}
          </button>
        </div>
        {view && !view.sold && (
          <div className="notice bad">{t("This is no longer sold. Take it out to go on.")}</div>
        )}
        {view?.newer && (
          <div className="notice attention">
            {t("This product changed since you chose. Please look at it again.")}
          </div>
        )}
        {wrong && wrong.length > 0 && (
          <div className="notice bad">
            {wrong.map((f) => (
              <div key={f.key}>
                {wording(f.key)}: {f.message}
              </div>
            ))}
          </div>
        )}
        <dl className="answers">
          {(entry.quantity > 1 || most > 1) && (
            <div>
              <dt>{t("How many?")}</dt>
              <dd className="row">
                <Button
                  size="small"
                  aria-label={t("One less")}
                  disabled={entry.quantity <= 1}
                  onClick={() => change((old) => ({ quantity: old.quantity - 1 }))}
                >
                  −
                </Button>
                <span className="num basket-quantity">{entry.quantity}</span>
                <Button
                  size="small"
                  aria-label={t("One more")}
                  disabled={entry.quantity >= most}
                  onClick={() => change((old) => ({ quantity: old.quantity + 1 }))}
                >
                  +
                </Button>
              </dd>
            </div>
          )}
          {view?.evaluation?.asked
            .filter((a) => {
              const q = question(a.key);
              return (
                q?.moment === "choosing" && !shown.has(q.kind) && (a.answered || a.later || a.key === editing)
              );
            })
            .map((a) => {
              const q = question(a.key);
              if (!q || !page) return null;
              if (editing === a.key)
                return (
                  <div key={a.key} className="answer-edit">
                    <QuestionField
                      prefix={`b${entry.id}`}
                      q={q}
                      page={page}
                      quantity={entry.quantity}
                      value={entry.answers[a.key] ?? null}
                      onChange={(v) => set(a.key, v)}
                      asked={a}
                      faults={faultsOf(view?.evaluation?.faults ?? [], a.key)}
                    />
                    <Button size="small" onClick={() => setEditing(undefined)}>
                      {t("Done")}
                    </Button>
                  </div>
                );
              return (
                <div key={a.key}>
                  <dt>{q.wording}</dt>
                  <dd>
                    <span className="grow answer-words">
                      {a.answered ? a.words : <span className="quiet">{t("you tell us later")}</span>}
                      <Proofs q={q} value={entry.answers[a.key]} text={a.text} />
                    </span>
                    {q.kind !== "booking" && a.answered && (
                      <button type="button" className="linkish small" onClick={() => setEditing(a.key)}>
                        {t("Change")}
                        <span className="sr"> {q.wording}</span>
                      </button>
                    )}
                  </dd>
                </div>
              );
            })}
        </dl>
        <Foreseen promise={view?.evaluation?.promise} />
      </div>
    </article>
  );
}
