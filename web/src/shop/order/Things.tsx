import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { QuestionField } from "../../shared/questions/QuestionField";
import { faultsOf } from "../../shared/questions/types";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useKept } from "../../shared/useKept";
import { isFinal, patience } from "./useBrief";

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
  // What is not at the server yet, through a reload and a lost connection.
  const [typed, setTyped] = useKept<{ value: unknown } | undefined>(
    `ruvo.thing.${link.slice(0, 6)}.${thing.id}`,
    undefined,
  );
  const value = typed ? typed.value : (thing.value ?? null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const save = useChange({
    send: (v: unknown) =>
      take(
        api.PUT("/api/shop/orders/{link}/things/{thing}", {
          params: { path: { link, thing: thing.id } },
          body: { value: v },
        }),
      ),
    done: (page, v) => {
      queries.setQueryData(["order", link], page);
      setTyped((old) => (JSON.stringify(old?.value) === JSON.stringify(v) ? undefined : old));
    },
    refused: (e) => !isFinal(e) && soon(patience),
  });
  const newest = useRef({ typed, send: save.send });
  newest.current = { typed, send: save.send };
  const go = () => newest.current.typed && newest.current.send(newest.current.typed.value);
  const goes = useRef(go);
  goes.current = go;
  const soon = (ms: number) => {
    clearTimeout(timer.current);
    timer.current = setTimeout(() => goes.current(), ms);
  };
  const change = (v: unknown) => {
    setTyped({ value: v });
    save.forget();
    soon(pause);
  };
  // What was typed before a reload goes now, and what was typed last before the page is left.
  useEffect(() => {
    goes.current();
    const online = () => goes.current();
    const leave = () => document.visibilityState === "hidden" && goes.current();
    window.addEventListener("online", online);
    document.addEventListener("visibilitychange", leave);
    return () => {
      clearTimeout(timer.current);
      goes.current();
      window.removeEventListener("online", online);
      document.removeEventListener("visibilitychange", leave);
    };
  }, []);
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
        {save.busy ? t("saving …") : thing.answered && !typed ? `✓ ${t("saved")}` : ""}
      </span>
      {faults.length === 0 && <Trouble error={save.problem} again={go} />}
    </fieldset>
  );
}
