import { useQuery } from "@tanstack/react-query";
import { Button, Modal } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, take } from "../../shared/api/client";
import { day, local } from "../../shared/format";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";
import { Actions, useSweep } from "../rehearse/Rehearsals";
import { useBegin } from "../rehearse/Rehearse";
import { type Draft, moments, ordered } from "./draft";

// Differences says in plain sentences what the draft changes of the edition
// on sale.
export function Differences({ id, version, close }: { id: number; version: number; close: () => void }) {
  const { t } = useTranslation();
  const said = useQuery({
    queryKey: ["differences", id, version],
    queryFn: () => take(api.GET("/api/desk/products/{id}/differences", { params: { path: { id } } })),
  });
  return (
    <Modal open title={t("What the draft changes of the edition on sale")} footer={null} onCancel={close}>
      <Trouble error={lost(said)} again={() => said.refetch()} />
      {said.data?.length === 0 && (
        <div className="empty">{t("Nothing: the draft is the edition on sale.")}</div>
      )}
      <ul className="said">
        {said.data?.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ul>
    </Modal>
  );
}

type EditionsProps = { id: number; close: () => void; bring: (draft: Draft) => void };

// Editions lists what was published; each can be read, and brought back as
// the draft.
export function Editions({ id, close, bring }: EditionsProps) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const [number, setNumber] = useState<number>();
  const list = useQuery({
    queryKey: ["editions", id],
    queryFn: () => take(api.GET("/api/desk/products/{id}/editions", { params: { path: { id } } })),
  });
  return (
    <Modal open width={760} title={t("Editions")} footer={null} onCancel={close}>
      <Trouble error={lost(list)} again={() => list.refetch()} />
      <div className="editions">
        <ul className="edition-list">
          {list.data?.map((e) => (
            <li key={e.number}>
              <button
                type="button"
                className={number === e.number ? "path-row on" : "path-row"}
                aria-current={number === e.number || undefined}
                onClick={() => setNumber(e.number)}
              >
                <span>
                  {t("Edition {{n}}", { n: e.number })}
                  {e.on_sale && <span className="mark good">{t("on sale")}</span>}
                </span>
                <span className="path-side">
                  {day(local(e.published, session.zone).day, today)} ·{" "}
                  {t("{{count}} orders", { count: e.orders })}
                </span>
              </button>
            </li>
          ))}
        </ul>
        {number === undefined ? (
          <div className="empty">{t("Choose an edition to read it.")}</div>
        ) : (
          <Reading id={id} number={number} bring={bring} />
        )}
      </div>
    </Modal>
  );
}

function Reading({ id, number, bring }: { id: number; number: number; bring: (draft: Draft) => void }) {
  const { t } = useTranslation();
  const edition = useQuery({
    queryKey: ["edition", id, number],
    queryFn: () =>
      take(api.GET("/api/desk/products/{id}/editions/{number}", { params: { path: { id, number } } })),
  });
  if (lost(edition)) return <Trouble error={edition.error} again={() => edition.refetch()} />;
  if (!edition.data) return null;
  const { draft } = edition.data;
  const names: Record<string, string> = {
    choosing: t("Choosing"),
    paying: t("Paying"),
    briefing: t("After paying"),
    desk: t("Only at the desk"),
  };
  return (
    <div className="edition">
      <h3>{draft.title}</h3>
      <p className="quiet small">{draft.summary}</p>
      {moments.map((m) => {
        const here = ordered(draft).filter((q) => q.moment === m);
        return (
          here.length > 0 && (
            <section key={m}>
              <strong className="small">{names[m]}</strong>
              <ul className="said">
                {here.map((q) => (
                  <li key={q.key}>
                    {q.wording || t("Note")} <span className="code small quiet">{q.key}</span>
                  </li>
                ))}
              </ul>
            </section>
          )
        );
      })}
      {draft.steps && draft.steps.length > 0 && (
        <section>
          <strong className="small">{t("Work plan")}</strong>
          <ul className="said">
            {draft.steps.map((s) => (
              <li key={s.key}>{s.title}</li>
            ))}
          </ul>
        </section>
      )}
      <Button type="primary" onClick={() => bring(draft)}>
        {t("Bring edition {{n}} back as the draft", { n: number })}
      </Button>
      <p className="small quiet">{t("Undo takes this back.")}</p>
      <RehearseEdition product={id} number={number} />
    </div>
  );
}

function RehearseEdition({ product, number }: { product: number; number: number }) {
  const { t } = useTranslation();
  const begin = useBegin(product);
  const sweep = useSweep();
  return (
    <div className="row">
      {begin.data ? (
        <Actions
          of={begin.data}
          sweep={() => sweep.send(begin.data?.name ?? "")}
          busy={sweep.busy || sweep.done}
        />
      ) : (
        <Button loading={begin.busy} onClick={() => begin.send(number)}>
          {t("Rehearse edition {{n}}", { n: number })}
        </Button>
      )}
      <Trouble error={begin.problem ?? sweep.problem} />
    </div>
  );
}
