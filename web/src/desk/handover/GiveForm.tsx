import { useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { Drop } from "../../shared/Drop";
import { day } from "../../shared/format";
import { size } from "../../shared/handover/types";
import { Labelled } from "../../shared/Labelled";
import { SendingRow } from "../../shared/questions/files/Rows";
import { forget, type Upload } from "../../shared/questions/files/sending";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";
import { type How, HowGiven } from "./How";
import { useFinished } from "./useFinished";

type Link = Schemas["FinishedLink"];

// GiveForm hands finished files, links and a message of one order over.
export function GiveForm({ of, close }: { of: Schemas["HandoverLine"]; close: () => void }) {
  const { t } = useTranslation();
  const { today } = useHere();
  const queries = useQueryClient();
  const [files, setFiles] = useState<Upload[]>([]);
  const [links, setLinks] = useState<Link[]>([]);
  const [message, setMessage] = useState(of.message ?? "");
  const [how, setHow] = useState<How>({ step: of.step, whole: of.whole });
  const [finish, setFinish] = useState(true);
  const { sending, begin, again, cancel } = useFinished((u) =>
    setFiles((old) => (old.some((f) => f.id === u.id) ? old : [...old, u])),
  );
  const give = useChange({
    once: true,
    send: () =>
      take(
        api.POST("/api/desk/dockets/{line}/handovers", {
          params: { path: { line: of.line } },
          body: {
            files: files.map((f) => f.id),
            links: links.filter((l) => l.address.trim()),
            message,
            step: how.step || undefined,
            whole: how.whole,
            finish,
          },
        }),
      ),
    refreshes: ["orders", "work", "today", "worksheet"],
    done: (d) => {
      queries.setQueryData(["docket", of.line], d);
      close();
    },
  });
  const link = (i: number, part: Partial<Link>) =>
    setLinks((old) => old.map((l, k) => (k === i ? { ...l, ...part } : l)));
  return (
    <form
      className="stack give-form"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        give.send();
      }}
    >
      {files.map((f) => (
        <div key={f.id} className="file">
          <div className="row file-head grow">
            <span className="grow file-name">
              {f.name} <span className="small quiet num">{size(f.size)}</span>
            </span>
            <Button
              size="small"
              aria-label={t("Take {{what}} away", { what: f.name })}
              onClick={() => {
                setFiles((old) => old.filter((x) => x.id !== f.id));
                forget(f.id);
              }}
            >
              ×
            </Button>
          </div>
        </div>
      ))}
      {sending.map((s) => (
        <SendingRow key={s.key} s={s} again={() => again(s)} cancel={() => cancel(s)} />
      ))}
      <Drop wording={t("Finished files")} most={1000} add={(list) => begin([...(list ?? [])])} />
      {give.of("files") && <div className="question-fault">{give.of("files")}</div>}
      {links.map((l, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a link is known by its place
        <div className="row" key={i}>
          <Input
            className="link-title"
            aria-label={t("Title of the link")}
            placeholder={t("Title")}
            value={l.title}
            maxLength={200}
            onChange={(e) => link(i, { title: e.target.value })}
          />
          <Input
            className="grow"
            type="url"
            aria-label={t("Address of the link")}
            placeholder="https://"
            value={l.address}
            onChange={(e) => link(i, { address: e.target.value })}
          />
          <Button
            aria-label={t("Take the link away")}
            onClick={() => setLinks((old) => old.filter((_, k) => k !== i))}
          >
            ×
          </Button>
        </div>
      ))}
      {give.of("links") && <div className="question-fault">{give.of("links")}</div>}
      <div>
        <Button size="small" onClick={() => setLinks((old) => [...old, { title: "", address: "" }])}>
          {t("Add a link")}
        </Button>
      </div>
      <Labelled
        id="handover-message"
        wording={t("Message")}
        help={t("{{field}} shows the answer with that key.", { field: "{{key}}" })}
        fault={give.of("message")}
      >
        <Input.TextArea
          id="handover-message"
          rows={4}
          value={message}
          maxLength={5000}
          onChange={(e) => setMessage(e.target.value)}
        />
      </Labelled>
      <HowGiven of={of} how={how} set={setHow} />
      {of.open > 0 && (
        <Checkbox checked={finish} onChange={(e) => setFinish(e.target.checked)}>
          {how.whole ? t("Mark all of its open work done") : t("Mark the work of this step done")}
        </Checkbox>
      )}
      {of.keep !== undefined && files.length > 0 && (
        <p className="small quiet">
          {t("The files are kept until {{day}}.", { day: day(later(today, of.keep), today) })}
        </p>
      )}
      <Trouble error={give.problem} />
      <div className="row">
        <Button type="primary" htmlType="submit" loading={give.busy} disabled={sending.length > 0}>
          {t("Hand over")}
        </Button>
        <Button onClick={close}>{t("Leave it")}</Button>
      </div>
    </form>
  );
}

// later gives the day so many days after another.
function later(iso: string, days: number) {
  const at = new Date(`${iso}T12:00:00Z`);
  at.setUTCDate(at.getUTCDate() + days);
  return at.toISOString().slice(0, 10);
}
