import { useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { away, local } from "../../shared/format";
import { PriceDialog } from "../../shared/slip/PriceDialog";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";

type Props = { d: Schemas["Docket"]; a: Schemas["Amendment"] };

// Amended shows a change of an answer that the customer asks for, to be taken over or
// refused.
export function Amended({ d, a }: Props) {
  const { t } = useTranslation();
  const { today, session } = useHere();
  const queries = useQueryClient();
  const [reply, setReply] = useState("");
  const [priced, setPriced] = useState<Schemas["PriceChange"]>();
  const preview = useChange({
    send: () =>
      take(api.POST("/api/desk/amendments/{amendment}/preview", { params: { path: { amendment: a.id } } })),
    done: setPriced,
  });
  const answer = useChange({
    once: true,
    send: (how: { take: boolean; agreed?: number }) =>
      take(
        api.POST("/api/desk/amendments/{amendment}", {
          params: { path: { amendment: a.id } },
          body: { ...how, reply: reply || undefined },
        }),
      ),
    refreshes: ["orders", "today", "work"],
    done: (next) => {
      setPriced(undefined);
      queries.setQueryData(["docket", d.line], next);
    },
    refused: (e) => {
      if (e instanceof Problem && (e.code === "price_differs" || e.code === "price_agreed")) preview.send();
    },
  });
  const asks = answer.problem instanceof Problem && answer.problem.code === "price_differs";
  const at = local(a.at, session.zone);
  return (
    <div className="notice attention stack">
      <div>
        {t("{{customer}} asks, {{when}}:", {
          customer: d.customer,
          when: `${away(at.day, today)} ${at.time}`,
        })}{" "}
        <del>{a.old}</del> → <strong>{a.new || t("nothing")}</strong>
      </div>
      {a.why && <div className="said-words">{a.why}</div>}
      <Input
        aria-label={t("A word to the customer")}
        placeholder={t("A word to the customer")}
        maxLength={2000}
        value={reply}
        onChange={(e) => setReply(e.target.value)}
      />
      <div className="row">
        <Button type="primary" size="small" loading={answer.busy} onClick={() => answer.send({ take: true })}>
          {t("Take it over")}
        </Button>
        <Button size="small" loading={answer.busy} onClick={() => answer.send({ take: false })}>
          {t("It stays as it was")}
        </Button>
      </div>
      <Trouble error={asks ? preview.problem : answer.problem} />
      {priced && (
        <PriceDialog
          desk
          change={priced}
          busy={answer.busy}
          agree={() => answer.send({ take: true, agreed: priced.after.total })}
          leave={() => {
            setPriced(undefined);
            answer.forget();
          }}
        />
      )}
    </div>
  );
}
