import { Button } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { ChargeEditor } from "./ChargeEditor";
import type { Charge, Draft, Question } from "./draft";
import { Findings } from "./Findings";

type Props = {
  draft: Draft;
  change: (draft: Draft) => void;
  // the question that the charges are on; none for those that always count
  q?: Question;
  linked?: Question[];
  digits: number;
  findings: Schemas["Finding"][];
};

// Charges edits what a question's answer does to the price, or what always
// does, each charge as a sentence: "Adds 0.60 for each letter after 24".
export function Charges({ draft, change, q, linked = [], digits, findings }: Props) {
  const { t } = useTranslation();
  const all = draft.charges ?? [];
  const here = (c: Charge) => (c.on ?? "") === (q?.key ?? "");
  const set = (i: number, c: Charge) => change({ ...draft, charges: all.with(i, c) });
  const add = () => {
    const rate = q?.kind === "amount" ? { answered: true } : { amount: 100 };
    const label = q ? undefined : t("Charge");
    change({ ...draft, charges: [...all, { on: q?.key, label, effect: "adds", rate }] });
  };
  return (
    <section className="charges">
      <h3>{q ? t("What it does to the price") : t("What always counts")}</h3>
      {all.map((c, i) =>
        here(c) ? (
          // biome-ignore lint/suspicious/noArrayIndexKey: a charge is known by its place
          <div key={i}>
            <ChargeEditor
              c={c}
              n={i + 1}
              q={q}
              draft={draft}
              linked={linked}
              digits={digits}
              findings={findings}
              set={(next) => set(i, next)}
              drop={() => change({ ...draft, charges: all.toSpliced(i, 1) })}
            />
            <Findings findings={findings.filter((f) => f.part === "charge" && f.key === String(i + 1))} />
          </div>
        ) : null,
      )}
      {!all.some(here) && (
        <p className="quiet small">
          {q ? t("Nothing: the answer is free.") : t("Nothing but the price itself.")}
        </p>
      )}
      <Button size="small" onClick={add}>
        {t("Add a charge")}
      </Button>
    </section>
  );
}
