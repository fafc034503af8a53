import { useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useTranslation } from "react-i18next";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { day, local } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { QuestionField } from "../../shared/questions/QuestionField";
import { faultsOf, type Question } from "../../shared/questions/types";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useKept } from "../../shared/useKept";

type Props = {
  q: Question;
  line: Schemas["OrderLine"];
  link: string;
  begin?: unknown; // what was typed already
  close: () => void;
};

// AskChange asks for a change of an answer that can no longer be changed here.
export function AskChange({ q, line, link, begin, close }: Props) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const memory = `ruvo.ask.${link.slice(0, 6)}.${line.id}.${q.key}`;
  const [ask, setAsk] = useKept<{ value: unknown; why: string } | undefined>(
    memory,
    begin === undefined ? undefined : { value: begin, why: "" },
  );
  const value = ask ? ask.value : (line.answers[q.key] ?? null);
  const set = (part: { value?: unknown; why?: string }) =>
    setAsk((old) => ({ value, why: old?.why ?? "", ...part }));
  const send = useChange({
    once: true,
    send: () =>
      take(
        api.POST("/api/shop/orders/{link}/lines/{line}/amendments", {
          params: { path: { link, line: line.id } },
          body: { key: q.key, value: value as never, why: ask?.why || undefined },
        }),
      ),
    done: (page) => {
      setAsk(undefined);
      queries.setQueryData(["order", link], page);
      close();
    },
  });
  const faults = send.problem instanceof Problem ? faultsOf(send.problem.errors, q.key) : [];
  return (
    <div className="answer-edit">
      <QuestionField
        prefix={`a${line.id}`}
        q={q}
        page={line.page}
        quantity={line.quantity}
        value={value}
        onChange={(v) => {
          send.forget(q.key);
          set({ value: v });
        }}
        asked={line.asked.find((a) => a.key === q.key)}
        faults={faults}
      />
      <Labelled id={`why-${q.key}`} wording={t("A word with it")}>
        <Input
          id={`why-${q.key}`}
          maxLength={2000}
          value={ask?.why ?? ""}
          onChange={(e) => set({ why: e.target.value })}
        />
      </Labelled>
      {send.problem !== undefined && faults.length === 0 && <Trouble error={send.problem} />}
      <div className="row">
        <Button type="primary" loading={send.busy} disabled={!ask} onClick={() => send.send()}>
          {t("Ask for this change")}
        </Button>
        <Button
          onClick={() => {
            setAsk(undefined);
            close();
          }}
        >
          {t("Leave it as it was")}
        </Button>
      </div>
    </div>
  );
}

type WishProps = {
  a: Schemas["Amendment"];
  link: string;
  zone: string;
  today: string;
};

// Wish shows what became of a change that was asked for.
export function Wish({ a, link, zone, today }: WishProps) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const back = useChange({
    once: true,
    send: () =>
      take(
        api.DELETE("/api/shop/orders/{link}/amendments/{amendment}", {
          params: { path: { link, amendment: a.id } },
        }),
      ),
    done: (page) => queries.setQueryData(["order", link], page),
    refused: () => queries.invalidateQueries({ queryKey: ["order", link] }),
  });
  if (a.state === "withdrawn") return null;
  const at = local(a.at, zone);
  return (
    <div className={a.state === "asked" ? "notice attention" : "notice"}>
      <div>
        {a.state === "asked" && t("You asked on {{day}}: {{new}}", { day: day(at.day, today), new: a.new })}
        {a.state === "taken" && t("Changed as you asked on {{day}}.", { day: day(at.day, today) })}
        {a.state === "refused" && t("You asked for “{{new}}”. It stays as it was.", { new: a.new })}
      </div>
      {a.reply && <div className="said-words">{a.reply}</div>}
      {a.state === "asked" && (
        <div className="row">
          <span className="mark attention">{t("waits for an answer")}</span>
          <Button size="small" loading={back.busy} onClick={() => back.send()}>
            {t("Take it back")}
          </Button>
        </div>
      )}
      <Trouble error={back.problem} />
    </div>
  );
}
