import { Button, Input } from "antd";
import { type ReactNode, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../api/client";
import { day, local } from "../format";
import { Files } from "../handover/Files";
import { Look } from "../handover/Look";
import { markable } from "../handover/types";
import { Labelled } from "../Labelled";
import { Picked } from "./Picked";
import type { useDraft } from "./useDraft";
import "../handover/handover.css";
import "./talk.css";

export type Talk = Schemas["Talk"];

type Props = {
  list: Talk[];
  // whose page it is
  customer: boolean;
  zone: string;
  today: string;
  // where a file of a message is
  file: (message: number, place: number, as: string) => string;
  draft: ReturnType<typeof useDraft>;
  // what the message is about, if it is about a question
  about?: { wording: string; drop: () => void };
  // what else helps with writing
  beside?: ReactNode;
};

// TalkList is what a customer and the seller wrote to each other, with a field to write
// more. What is being written is kept in the browser.
export function TalkList({ list, customer, zone, today, file, draft, about, beside }: Props) {
  const { t } = useTranslation();
  return (
    <div className="talk stack">
      {list.length > 0 && (
        <ol className="bare talk-list">
          {list.map((m) => (
            <One key={m.id} m={m} customer={customer} zone={zone} today={today} file={file} />
          ))}
        </ol>
      )}
      <form
        className="stack"
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          draft.send();
        }}
      >
        {about && (
          <div className="row small">
            <span className="grow">{t("About “{{what}}”", { what: about.wording })}</span>
            <Button size="small" onClick={about.drop} aria-label={t("About nothing in particular")}>
              ×
            </Button>
          </div>
        )}
        <Labelled
          id="talk-text"
          wording={list.length > 0 ? t("Write more") : t("Write a message")}
          fault={draft.of("text")}
        >
          <Input.TextArea
            id="talk-text"
            rows={3}
            maxLength={5000}
            value={draft.text}
            onChange={(e) => draft.setText(e.target.value)}
          />
        </Labelled>
        <Picked draft={draft} />
        <div className="row">
          <Button
            type="primary"
            htmlType="submit"
            loading={draft.busy}
            disabled={draft.sending.length > 0 || (draft.text.trim() === "" && draft.files.length === 0)}
          >
            {t("Send the message")}
          </Button>
          {beside}
        </div>
      </form>
    </div>
  );
}

type OneProps = Pick<Props, "customer" | "zone" | "today" | "file"> & { m: Talk };

function One({ m, customer, zone, today, file }: OneProps) {
  const { t } = useTranslation();
  const [at, setAt] = useState<number>();
  const when = local(m.at, zone);
  const files = m.files ?? [];
  const looked = files.filter(markable);
  const address = (f: { id: number }, as: string) => file(m.id, f.id, as);
  const mine = m.customer === customer;
  return (
    <li className={mine ? "said mine" : "said"} data-message={m.id}>
      <div className="small quiet">
        <strong>{mine ? t("You") : m.author}</strong> · {day(when.day, today)}, {when.time}
        {m.about && ` · ${t("about “{{what}}”", { what: m.about })}`}
        {mine && m.read && ` · ${t("read")}`}
        {!mine && !m.read && <span className="mark attention">{t("new")}</span>}
      </div>
      {m.text && <p className="said-words">{m.text}</p>}
      {files.length > 0 && (
        <Files files={files} address={address} look={(f) => setAt(looked.findIndex((x) => x.id === f.id))} />
      )}
      {at !== undefined && at >= 0 && <Look files={looked} at={at} go={setAt} address={address} />}
    </li>
  );
}
