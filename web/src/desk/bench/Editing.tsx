import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { BookingEditor } from "./booking/BookingEditor";
import type { Draft, Question, Selected } from "./draft";
import { LinkedEditor } from "./LinkedEditor";
import { PriceEditor } from "./PriceEditor";
import { ProductEditor } from "./ProductEditor";
import { QuestionEditor } from "./QuestionEditor";
import { StepEditor } from "./step/StepEditor";
import { useTrial } from "./trial";

type Props = {
  product: Schemas["DeskProduct"];
  draft: Draft;
  change: (draft: Draft) => void;
  selected: Selected;
  select: (s: Selected) => void;
  findings: Schemas["Finding"][];
  linked: Question[];
  sheets: Schemas["SheetRow"][] | undefined;
};

// placeOf knows a question by its place while its key follows its wording.
const placeOf = (draft: Draft, key: string) => draft.questions?.findIndex((q) => q.key === key);

// Editing is the editor of what is selected on the path.
export function Editing({ product, draft, change, selected, select, findings, linked, sheets }: Props) {
  const { t } = useTranslation();
  const trial = useTrial();
  const fromSheet =
    selected.part === "question" && !draft.questions?.some((q) => q.key === selected.key)
      ? linked.find((q) => q.key === selected.key)
      : undefined;
  return (
    <section className="bench-middle" aria-label={t("What is selected")}>
      {selected.part === "price" && (
        <PriceEditor id={product.id} draft={draft} change={change} linked={linked} findings={findings} />
      )}
      {selected.part === "product" && <ProductEditor draft={draft} change={change} product={product.id} />}
      {selected.part === "booking" && <BookingEditor draft={draft} change={change} />}
      {fromSheet && (
        <LinkedEditor
          key={fromSheet.key}
          draft={draft}
          change={change}
          q={fromSheet}
          linked={linked}
          sheet={sheets?.find((s) => s.id === fromSheet.sheet)}
          findings={findings}
        />
      )}
      {selected.part === "question" && !fromSheet && (
        <QuestionEditor
          key={placeOf(draft, selected.key)}
          draft={draft}
          change={change}
          at={selected.key}
          select={select}
          findings={findings}
          used={product.used_keys}
          linked={linked}
          ties={trial?.ties}
        />
      )}
      {selected.part === "step" && (
        <StepEditor
          key={selected.key}
          draft={draft}
          change={change}
          at={selected.key}
          select={select}
          findings={findings}
        />
      )}
    </section>
  );
}
