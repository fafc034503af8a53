import { Button } from "antd";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { money } from "../../shared/format";
import type { useChoosing } from "./useChoosing";

type Props = {
  page: Schemas["ProductPage"];
  evaluation: ReturnType<typeof useChoosing>;
  slip: ReactNode;
  promise: ReactNode;
  ready?: string; // by when, in words
  editing: boolean;
  missing: number; // questions, once somebody tried
  putIn: () => void;
};

// Buy shows the slip with the button that takes the product: beside the
// questions, and on a phone as a bar that opens.
export function Buy({ page, evaluation, slip, promise, ready, editing, missing, putIn }: Props) {
  const { t } = useTranslation();
  const bar = useRef<HTMLDetailsElement>(null);
  const add = usePatient(evaluation, () => {
    // What is still missing must not lie under the unfolded slip.
    if (bar.current) bar.current.open = false;
    putIn();
  });
  const button = (
    <Button
      type="primary"
      size="large"
      onClick={add}
      disabled={!evaluation.result?.evaluations[0] || page.sold_out}
    >
      {editing ? t("Keep the changes") : t("Add to basket")}
    </Button>
  );
  return (
    <>
      <aside className="product-slip">
        {slip}
        {/* Not before its slip is there, which would push it away. */}
        {evaluation.result && button}
        {/* Under the button, which its coming and going must not move under a finger. */}
        {promise}
        {missing > 0 && (
          <div className="notice attention" role="status">
            {t("{{count}} questions still to answer", { count: missing })}
          </div>
        )}
      </aside>
      <div className="product-bar">
        <details ref={bar}>
          <summary>
            <strong className="num">
              <Total page={page} evaluation={evaluation} />
            </strong>
            <span className="small quiet">
              {ready ? t("ready by {{when}}", { when: ready }) : t("see what is in it")}
              {ready && <span className="sr">{t("see what is in it")}</span>}
            </span>
          </summary>
          {slip}
          {promise}
        </details>
        {button}
      </div>
    </>
  );
}

// Total is what the choices come to. While they make no price yet, such as
// before a time is booked, it is where the price begins.
function Total({ page, evaluation }: Pick<Props, "page" | "evaluation">) {
  const { t } = useTranslation();
  const slip = evaluation.result?.slip;
  if (!slip) return "…";
  if (evaluation.stale) return t("computing …");
  if (slip.total === 0 && page.from) return t("from {{amount}}", { amount: money(page.from, slip.currency) });
  return money(slip.total, slip.currency);
}

// usePatient does something once the newest answer is computed, should it be
// asked for before.
function usePatient(evaluation: Props["evaluation"], act: () => void) {
  const [wanted, setWanted] = useState(false);
  useEffect(() => {
    if (!wanted || evaluation.stale || !evaluation.result) return;
    setWanted(false);
    act();
  });
  return () => setWanted(true);
}
