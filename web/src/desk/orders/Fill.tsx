import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { QuestionField } from "../../shared/questions/QuestionField";
import { faultsOf } from "../../shared/questions/types";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";

// Fill answers a question that only the desk fills, where its answer stands.
export function Fill({ docket, at }: { docket: Schemas["Docket"]; at: string }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [value, setValue] = useState<unknown>(null);
  const save = useChange({
    send: () =>
      take(
        api.PATCH("/api/desk/dockets/{line}/answers", {
          params: { path: { line: docket.line } },
          body: { version: docket.version, answers: { [at]: value } },
        }),
      ),
    done: (next) => {
      queries.setQueryData(["docket", docket.line], next);
      setOpen(false);
    },
    refused: (e) => {
      if (e instanceof Problem && e.status === 409)
        queries.invalidateQueries({ queryKey: ["docket", docket.line] });
    },
  });
  const q = docket.page.questions.find((x) => x.key === at);
  if (!q) return null;
  if (!open) {
    return (
      <button
        type="button"
        className="linkish small"
        onClick={() => {
          setValue(docket.filled[at] ?? null);
          setOpen(true);
        }}
      >
        {t("fill in")}
        <span className="sr"> {q.wording}</span>
      </button>
    );
  }
  const faults = save.problem instanceof Problem ? faultsOf(save.problem.errors, at) : [];
  return (
    <form
      className="fill"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        save.send();
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
      {faults.length === 0 && <Trouble error={save.problem} />}
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
