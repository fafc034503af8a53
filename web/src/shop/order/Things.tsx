import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { QuestionField } from "../../shared/questions/QuestionField";
import { faultsOf } from "../../shared/questions/types";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";

type Props = { line: Schemas["OrderLine"]; link: string };

// Things are what the seller asked of this order beside the questions of its product. An
// answer is saved while it is typed.
export function Things({ line, link }: Props) {
  const { t } = useTranslation();
  const things = line.things ?? [];
  if (things.length === 0) return null;
  return (
    <section className="to-answer" aria-label={t("One more thing")}>
      <h3>{t("One more thing")}</h3>
      {things.map((thing) => (
        <Thing key={thing.id} thing={thing} line={line} link={link} />
      ))}
    </section>
  );
}

const pause = 700; // ms without a key

function Thing({ thing, line, link }: Props & { thing: Schemas["Thing"] }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [value, setValue] = useState<unknown>(thing.value ?? null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const save = useChange({
    send: (v: unknown) =>
      take(
        api.PUT("/api/shop/orders/{link}/things/{thing}", {
          params: { path: { link, thing: thing.id } },
          body: { value: v },
        }),
      ),
    done: (page) => queries.setQueryData(["order", link], page),
  });
  const newest = useRef({ value, send: save.send });
  newest.current = { value, send: save.send };
  const waits = useRef(false);
  const change = (v: unknown) => {
    setValue(v);
    save.forget();
    waits.current = true;
    clearTimeout(timer.current);
    timer.current = setTimeout(() => {
      waits.current = false;
      newest.current.send(newest.current.value);
    }, pause);
  };
  // What was typed last goes before the page is left.
  useEffect(
    () => () => {
      clearTimeout(timer.current);
      if (waits.current) newest.current.send(newest.current.value);
    },
    [],
  );
  const q = thing.question;
  const faults = save.problem instanceof Problem ? faultsOf(save.problem.errors, q.key) : [];
  return (
    <fieldset className="brief-field" aria-label={q.wording}>
      <QuestionField
        prefix={`t${line.id}`}
        q={q}
        page={line.page}
        quantity={line.quantity}
        value={value}
        onChange={change}
        asked={{ key: q.key, answered: thing.answered !== undefined, later: false }}
        faults={faults}
      />
      <span className="small quiet" role="status">
        {save.busy ? t("saving …") : thing.answered && !save.problem ? `✓ ${t("saved")}` : ""}
      </span>
      {faults.length === 0 && <Trouble error={save.problem} again={() => save.send(value)} />}
    </fieldset>
  );
}
