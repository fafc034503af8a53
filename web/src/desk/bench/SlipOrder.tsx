import { Button } from "antd";
import { useTranslation } from "react-i18next";
import type { Choice } from "../../shared/questions/one_choice/Choices";
import { Sortable, SortableRow } from "../../shared/Sortable";
import type { Draft, Question } from "./draft";
import { useTrial } from "./trial";

type Props = {
  draft: Draft;
  change: (draft: Draft) => void;
  linked: Question[];
  // the numbers of the charges, from 1, in the order in which the slip is made; until the
  // server says it they stand as they are kept, so that nothing below moves
  order?: number[];
};

// SlipOrder shows the order in which the slip is made, for what stands later
// takes its share of all before it. Dragging a charge makes the order one of
// its own.
export function SlipOrder({ draft, change, linked, order }: Props) {
  const { t } = useTranslation();
  const says = useTrial()?.says ?? [];
  const charges = draft.charges ?? [];
  const shown = (order ?? charges.map((_, i) => i + 1)).filter(
    (n) => charges[n - 1] && charges[n - 1]?.effect !== "sets",
  );
  if (shown.length < 2) return null;
  const questions = [...(draft.questions ?? []), ...linked];
  const name = (n: number) => {
    const c = charges[n - 1];
    const q = questions.find((x) => x.key === c?.on);
    const choice = (q?.settings?.choices as Choice[] | undefined)?.find((x) => x.code === c?.choice);
    return c?.label || choice?.label || q?.wording || t("charge {{n}}", { n });
  };
  const move = (from: number, to: number) => {
    const next = shown.toSpliced(from, 1);
    next.splice(to, 0, shown[from] ?? 0);
    // What is not shown, such as what sets the price, keeps its place before.
    const rest = charges.map((_, i) => i + 1).filter((n) => !shown.includes(n));
    change({
      ...draft,
      by_hand: true,
      charges: [...rest, ...next].flatMap((n) => {
        const c = charges[n - 1];
        return c ? [{ ...c, place: undefined }] : [];
      }),
    });
  };
  return (
    <section className="slip-order">
      <h3>{t("In which order the slip is made")}</h3>
      <p className="quiet small">
        {draft.by_hand
          ? t("In an order of its own. A share is taken of all that stands before it.")
          : t("With the questions. A share is taken of all that stands before it; drag to change the order.")}
      </p>
      <div className="slip-order-row first">{draft.base_label || draft.title || t("the price")}</div>
      <Sortable ids={shown.map(String)} move={move} name={(id) => name(Number(id))}>
        {shown.map((n) => (
          <SortableRow key={n} id={String(n)} name={name(n)} className="slip-order-row">
            <span className="grow">{name(n)}</span>
            <span className="quiet small">{says[n - 1]}</span>
          </SortableRow>
        ))}
      </Sortable>
      {draft.by_hand && (
        <Button size="small" onClick={() => change({ ...draft, by_hand: undefined })}>
          {t("In the order of the questions again")}
        </Button>
      )}
    </section>
  );
}
