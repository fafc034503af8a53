import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { QuestionField } from "../../shared/questions/QuestionField";
import { faultsOf } from "../../shared/questions/types";
import { PriceDialog } from "../../shared/slip/PriceDialog";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";

// Fill answers a question where its answer stands: one that only the desk fills, or any
// other for the customer, in the history under who did it.
export function Fill({ docket, at }: { docket: Schemas["Docket"]; at: string }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [value, setValue] = useState<unknown>(null);
  const [priced, setPriced] = useState<Schemas["PriceChange"]>();
  const params = { path: { line: docket.line } };
  const body = { version: docket.version, answers: { [at]: value } };
  const preview = useChange({
    send: () => take(api.POST("/api/desk/dockets/{line}/answers/preview", { params, body })),
    done: setPriced,
  });
  const save = useChange({
    send: (agreed: number | undefined) =>
      take(api.PATCH("/api/desk/dockets/{line}/answers", { params, body: { ...body, agreed } })),
    refreshes: ["orders"],
    done: (next) => {
      queries.setQueryData(["docket", docket.line], next);
      setPriced(undefined);
      setOpen(false);
    },
    refused: (e) => {
      if (e instanceof Problem && (e.code === "price_differs" || e.code === "price_agreed")) preview.send();
      else if (e instanceof Problem && e.status === 409)
        queries.invalidateQueries({ queryKey: ["docket", docket.line] });
    },
  });
  const q = docket.page.questions.find((x) => x.key === at);
  if (!q) return null;
  if (!open) {
    return (
      <button
        type="button"
        className={q.moment === "desk" ? "linkish small" : "linkish small quiet-act"}
        onClick={() => {
          setValue(docket.filled[at] ?? null);
          setOpen(true);
        }}
      >
        {q.moment === "desk" ? t("fill in") : t("change")}
        <span className="sr"> {q.wording}</span>
      </button>
    );
  }
  const asks = save.problem instanceof Problem && save.problem.code === "price_differs";
  const faults = save.problem instanceof Problem ? faultsOf(save.problem.errors, at) : [];
  return (
    <form
      className="fill"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        save.send(undefined);
      }}
    >
      <QuestionField
        prefix="fill"
        q={q}
        page={docket.page}
        quantity={docket.quantity}
        value={value}
        onChange={setValue}
        faults={faults}
      />
      {faults.length === 0 && <Trouble error={asks ? preview.problem : save.problem} />}
      {priced && (
        <PriceDialog
          desk
          change={priced}
          busy={save.busy}
          agree={() => save.send(priced.after.total)}
          leave={() => {
            setPriced(undefined);
            save.forget();
          }}
        />
      )}
      <div className="row">
        <Button type="primary" size="small" htmlType="submit" loading={save.busy}>
          {t("Save")}
        </Button>
        <Button
          size="small"
          onClick={() => {
            setOpen(false);
            save.forget();
          }}
        >
          {t("Leave it as it was")}
        </Button>
      </div>
    </form>
  );
}
