import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, local, money } from "../../shared/format";
import { Asked } from "../../shared/handover/Asked";
import { Files } from "../../shared/handover/Files";
import { Look } from "../../shared/handover/Look";
import { type Address, type HandedFile, markable } from "../../shared/handover/types";
import { home } from "../../shared/home";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { usePressed } from "../usePressed";
import { AskChanges } from "./AskChanges";
import "../../shared/handover/handover.css";

type Handover = Schemas["Handover"];
type Props = { order: Schemas["OrderPage"]; line: Schemas["OrderLine"]; link: string };

// Handed shows what was handed over of a product, the newest first, and asks whether
// that is as it was wished.
export function Handed({ order, line, link }: Props) {
  const { t } = useTranslation();
  const [first, ...before] = line.handovers ?? [];
  if (!first) return null;
  return (
    <section className="handed stack">
      <One h={first} order={order} line={line} link={link} />
      {before.length > 0 && (
        <details className="history">
          <summary>{t("What you were given before")}</summary>
          {before.map((h) => (
            <One key={h.id} h={h} order={order} line={line} link={link} />
          ))}
        </details>
      )}
    </section>
  );
}

// useAnswer sends what the customer answers to a handover.
export function useAnswer(link: string, handover: number, done?: () => void) {
  const queries = useQueryClient();
  return useChange({
    once: true,
    send: (body: Schemas["HandoverAnswer"]) =>
      take(
        api.POST("/api/shop/orders/{link}/handovers/{handover}", {
          params: { path: { link, handover } },
          body,
        }),
      ),
    done: (page) => {
      queries.setQueryData(["order", link], page);
      done?.();
    },
    refused: () => queries.invalidateQueries({ queryKey: ["order", link] }),
  });
}

function One({ h, order, line, link }: Props & { h: Handover }) {
  const { t } = useTranslation();
  const [at, setAt] = useState<number>();
  const [asking, setAsking] = useState(false);
  const answer = useAnswer(link, h.id);
  const address: Address = (f, as) => `${home}/api/shop/orders/${link}/handed/${f.id}?as=${as}`;
  const looked = h.files.filter(markable);
  const opened = useAnswer(link, h.id);
  usePressed(h.opened === undefined ? String(h.id) : "", () => opened.send({ action: "open" }));
  const made = local(h.made, order.zone);
  const there = h.files.filter((f) => !f.gone);
  const open = h.asks && h.latest && h.state === "given";
  const look = (f: HandedFile) => setAt(looked.findIndex((x) => x.id === f.id));
  return (
    <article className="stack" data-handover={h.id}>
      <div className="row">
        <h3 className="grow">
          {h.whole ? t("Your order is ready") : t("Something to look at")}{" "}
          <span className="quiet small">{day(made.day, order.today)}</span>
        </h3>
        <StateMark h={h} />
      </div>
      {h.message && <p className="handed-words">{h.message}</p>}
      {h.links.map((l) => (
        <a key={l.address} href={l.address} rel="noreferrer" target="_blank">
          {l.title}
        </a>
      ))}
      {!asking && <Files files={h.files} address={address} look={look} />}
      {!asking && (there.length > 1 || h.until) && (
        <div className="row small">
          {there.length > 1 && (
            <a href={`${home}/api/shop/orders/${link}/handovers/${h.id}/files.zip`} download>
              {t("Save all {{count}} files", { count: there.length })}
            </a>
          )}
          {h.until && there.length > 0 && (
            <span className="quiet">{t("Kept until {{day}}.", { day: day(h.until, order.today) })}</span>
          )}
        </div>
      )}
      {h.requests.map((r) => (
        <div key={r.id} className="notice attention">
          <strong>{t("You asked for changes")}</strong>
          <Asked request={r} address={address} />
          {r.price !== undefined && (
            <div className="small num">
              {t("This round costs {{price}}.", { price: money(r.price, line.slip.currency) })}
            </div>
          )}
        </div>
      ))}
      {open && !asking && (
        <div className="stack answer-handover">
          <div className="row">
            <Button type="primary" loading={answer.busy} onClick={() => answer.send({ action: "accept" })}>
              {t("I like it")}
            </Button>
            <Button disabled={h.none} onClick={() => setAsking(true)}>
              {t("Ask for changes")}
            </Button>
          </div>
          <Terms h={h} currency={line.slip.currency} today={order.today} />
          <Trouble error={answer.problem} />
        </div>
      )}
      {open && asking && (
        <AskChanges
          h={h}
          link={link}
          address={address}
          currency={line.slip.currency}
          close={() => setAsking(false)}
        />
      )}
      {at !== undefined && at >= 0 && <Look files={looked} at={at} go={setAt} address={address} />}
    </article>
  );
}

function StateMark({ h }: { h: Handover }) {
  const { t } = useTranslation();
  if (h.state === "accepted")
    return <span className="mark good">{h.answered_by ? t("accepted") : t("accepted by silence")}</span>;
  if (h.state === "changes") return <span className="mark attention">{t("changes are being made")}</span>;
  if (h.asks && h.latest) return <span className="mark attention">{t("Is it as you wish?")}</span>;
  return null;
}

// Terms says what a round of changes costs, and what silence means.
function Terms({ h, currency, today }: { h: Handover; currency: string; today: string }) {
  const { t } = useTranslation();
  return (
    <p className="small quiet">
      {h.none
        ? t("The included rounds of changes are used.")
        : h.price !== undefined
          ? t("A further round of changes costs {{price}}.", { price: money(h.price, currency) })
          : t("{{count}} rounds of changes are included.", { count: h.left })}{" "}
      {h.silent &&
        t("If we hear nothing until {{day}}, it counts as accepted.", { day: day(h.silent, today) })}
    </p>
  );
}
