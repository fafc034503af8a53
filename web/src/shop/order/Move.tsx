import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import type { DaysSource } from "../../shared/days/source";
import { QuestionField } from "../../shared/questions/QuestionField";
import { faultsOf, type Question } from "../../shared/questions/types";
import { PriceDialog } from "../../shared/slip/PriceDialog";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";

type Props = {
  q: Question;
  line: Schemas["OrderLine"];
  link: string;
  days: DaysSource;
  close: () => void;
};

// Move moves what is booked. It is told to everybody whom it concerns, so it happens
// when it is said and not while it is looked for.
export function Move({ q, line, link, days, close }: Props) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [wanted, setWanted] = useState<unknown>();
  // What the price would be, while the customer has not agreed to it.
  const [priced, setPriced] = useState<Schemas["PriceChange"]>();
  const path = { params: { path: { link, line: line.id } } };
  const body = { version: line.version, answers: { [q.key]: wanted } };
  const preview = useChange({
    send: () => take(api.POST("/api/shop/orders/{link}/lines/{line}/answers/preview", { ...path, body })),
    done: setPriced,
  });
  const move = useChange({
    send: (agreed: number | undefined) =>
      take(api.PATCH("/api/shop/orders/{link}/lines/{line}/answers", { ...path, body: { ...body, agreed } })),
    done: (page) => {
      queries.setQueryData(["order", link], page);
      close();
    },
    refused: (e) => {
      if (e instanceof Problem && (e.code === "price_differs" || e.code === "price_agreed")) preview.send();
      else if (e instanceof Problem && e.status === 409)
        queries.invalidateQueries({ queryKey: ["order", link] });
    },
  });
  const asking = move.problem instanceof Problem && move.problem.code === "price_differs";
  const problem = asking ? preview.problem : move.problem;
  const faults = problem instanceof Problem ? faultsOf(problem.errors, q.key) : [];
  return (
    <div className="answer-edit">
      <QuestionField
        prefix={`c${line.id}`}
        q={q}
        page={line.page}
        value={wanted === undefined ? (line.answers[q.key] ?? null) : wanted}
        onChange={(v) => {
          move.forget(q.key);
          setWanted(v);
        }}
        quantity={line.quantity}
        days={days}
        asked={line.asked.find((a) => a.key === q.key)}
        faults={faults}
      />
      {problem !== undefined && faults.length === 0 && <Trouble error={problem} />}
      <div className="row">
        <Button
          type="primary"
          loading={move.busy || preview.busy}
          disabled={wanted === undefined}
          onClick={() => move.send(undefined)}
        >
          {t("Save")}
        </Button>
        <Button onClick={close}>{t("Leave it as it was")}</Button>
      </div>
      {priced && (
        <PriceDialog
          change={priced}
          busy={move.busy}
          agree={() => move.send(priced.after.total)}
          leave={() => {
            setPriced(undefined);
            move.forget();
          }}
        />
      )}
    </div>
  );
}
