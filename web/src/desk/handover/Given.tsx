import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, local, money } from "../../shared/format";
import { Asked } from "../../shared/handover/Asked";
import { Files } from "../../shared/handover/Files";
import { Look } from "../../shared/handover/Look";
import { type HandedFile, markable } from "../../shared/handover/types";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";
import { givenFile } from "./address";
import { GiveForm } from "./GiveForm";
import "../../shared/handover/handover.css";

// Given shows what was handed over of an order, what the customer did with it, and
// hands over more.
export function Given({ d }: { d: Schemas["Docket"] }) {
  const { t } = useTranslation();
  const [giving, setGiving] = useState(false);
  const can = d.money.state === "placed" && d.cancelled === undefined && d.hands !== undefined;
  return (
    <>
      <div className="row">
        <h3 className="grow">{t("Handover")}</h3>
        {can && !giving && (
          <Button size="small" onClick={() => setGiving(true)}>
            {t("Hand over")}
          </Button>
        )}
      </div>
      {giving && d.hands && <GiveForm of={d.hands} close={() => setGiving(false)} />}
      {!d.handovers?.length && !giving && <div className="empty">{t("Nothing was handed over yet.")}</div>}
      {d.handovers?.map((h) => (
        <One key={h.id} h={h} d={d} />
      ))}
    </>
  );
}

function One({ h, d }: { h: Schemas["Handover"]; d: Schemas["Docket"] }) {
  const { t } = useTranslation();
  const { today, session } = useHere();
  const queries = useQueryClient();
  const [at, setAt] = useState<number>();
  const act = useChange({
    send: (action: Schemas["HandoverAct"]["action"]) =>
      take(
        api.POST("/api/desk/handovers/{handover}", {
          params: { path: { handover: h.id } },
          body: { action },
        }),
      ),
    refreshes: ["orders", "work", "today"],
    done: (next) => queries.setQueryData(["docket", d.line], next),
  });
  const when = (instant: string) => {
    const l = local(instant, session.zone);
    return `${day(l.day, today)}, ${l.time}`;
  };
  const looked = h.files.filter(markable);
  const told = (f: HandedFile) => (
    <div className="small quiet">
      {f.downloaded
        ? t("saved {{when}}", { when: when(f.downloaded) })
        : f.opened
          ? t("opened {{when}}", { when: when(f.opened) })
          : t("not opened")}
    </div>
  );
  const answers: Record<Schemas["Handover"]["state"], string> = {
    given: h.asks && h.latest ? t("waits for an answer") : t("given"),
    accepted: h.answered_by ? t("accepted by {{who}}", { who: h.answered_by }) : t("accepted by silence"),
    changes: t("changes asked for"),
    withdrawn: t("taken back"),
  };
  const kind = { given: "plain", accepted: "good", changes: "attention", withdrawn: "plain" }[h.state];
  return (
    <article className="stack given" data-handover={h.id}>
      <div className="row">
        <strong>{h.step ?? (h.whole ? t("All of it") : t("A part of it"))}</strong>
        {h.step && h.whole && <span className="small quiet">{t("with it, all was given")}</span>}
        <span className={`mark ${kind}`}>{answers[h.state]}</span>
        <span className="grow" />
        <span className="small quiet">
          {when(h.made)}
          {h.by && `, ${h.by}`}
        </span>
      </div>
      <div className="small quiet">
        {h.opened
          ? t("The customer saw it {{when}}.", { when: when(h.opened) })
          : t("The customer has not seen it yet.")}{" "}
        {h.state === "given" &&
          h.silent &&
          t("No answer until {{day}} counts as acceptance.", { day: day(h.silent, today) })}{" "}
        {h.until && t("The files are kept until {{day}}.", { day: day(h.until, today) })}
      </div>
      {h.message && <p className="handed-words small">{h.message}</p>}
      {h.links.map((l) => (
        <a key={l.address} href={l.address} rel="noreferrer" target="_blank" className="small">
          {l.title}
        </a>
      ))}
      <Files
        files={h.files}
        address={givenFile}
        look={(f) => setAt(looked.findIndex((x) => x.id === f.id))}
        told={told}
      />
      {h.requests.map((r) => (
        <div key={r.id} className="notice attention">
          <div className="row">
            <strong className="grow">{t("Asked to be changed")}</strong>
            {r.price !== undefined && <span className="num small">{money(r.price, d.currency)}</span>}
            <span className="small">{r.done ? t("done") : t("to be done")}</span>
          </div>
          <Asked request={r} address={givenFile} />
        </div>
      ))}
      <Trouble error={act.problem} />
      {h.state !== "withdrawn" && h.state !== "changes" && d.money.state === "placed" && (
        <div className="row">
          {h.asks && h.latest && h.state === "given" && (
            <Button size="small" loading={act.busy} onClick={() => act.send("accept")}>
              {t("The customer accepted it otherwise")}
            </Button>
          )}
          {h.asks && h.latest && h.state === "accepted" && (
            <Button size="small" loading={act.busy} onClick={() => act.send("reopen")}>
              {t("It was not accepted")}
            </Button>
          )}
          <Button size="small" loading={act.busy} onClick={() => act.send("withdraw")}>
            {t("Take it back")}
          </Button>
        </div>
      )}
      {at !== undefined && at >= 0 && <Look files={looked} at={at} go={setAt} address={givenFile} />}
    </article>
  );
}
