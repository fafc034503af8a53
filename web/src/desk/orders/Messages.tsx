import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Dropdown, Input, Modal } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { home } from "../../shared/home";
import { Labelled } from "../../shared/Labelled";
import type { Start } from "../../shared/questions/files/sending";
import { Trouble } from "../../shared/Trouble";
import { TalkList } from "../../shared/talk/Talk";
import { useDraft } from "../../shared/talk/useDraft";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";

const forMessage: Start = (name, size) => take(api.POST("/api/desk/finished", { body: { name, size } }));

// Messages is what the customer and the seller wrote to each other about an order.
export function Messages({ d }: { d: Schemas["Docket"] }) {
  const { t } = useTranslation();
  const { today, session } = useHere();
  const queries = useQueryClient();
  const path = { path: { line: d.line } };
  const draft = useDraft(`ruvo.desk.message.${d.number}`, forMessage, async (m) => {
    const next = await take(api.POST("/api/desk/dockets/{line}/talk", { params: path, body: m }));
    queries.setQueryData(["docket", d.line], next);
    queries.invalidateQueries({ queryKey: ["today"] });
  });
  const list = d.talk ?? [];
  const unread = list.some((m) => m.customer && !m.read);
  const { line } = d;
  useEffect(() => {
    if (!unread) return;
    api
      .POST("/api/desk/dockets/{line}/talk/{what}", { params: { path: { line, what: "read" } } })
      .catch(() => {});
  }, [unread, line]);
  return (
    <section className="stack" aria-label={t("Messages")} id="messages">
      <h3>{t("Messages")}</h3>
      <TalkList
        list={list}
        customer={false}
        zone={session.zone}
        today={today}
        draft={draft}
        file={(message, place, as) => `${home}/api/desk/talk/${message}/${place}?as=${as}`}
        beside={<Replies line={d.line} text={draft.text} put={draft.setText} />}
      />
    </section>
  );
}

type RepliesProps = { line: number; text: string; put: (text: string) => void };

// Replies puts a kept answer into the message, its merge fields filled, and keeps what
// was written as one.
function Replies({ line, text, put }: RepliesProps) {
  const { t } = useTranslation();
  const [wanted, setWanted] = useState(false);
  const [keeping, setKeeping] = useState(false);
  const replies = useQuery({
    queryKey: ["replies", line],
    queryFn: () => take(api.GET("/api/desk/dockets/{line}/replies", { params: { path: { line } } })),
    enabled: wanted,
    refetchOnWindowFocus: false,
  });
  const list = replies.data ?? [];
  const coming = wanted && replies.isFetching;
  return (
    <>
      <Dropdown
        trigger={["click"]}
        // What arrives in an open list would move it under the hand.
        open={wanted && !coming}
        onOpenChange={setWanted}
        menu={{
          items: [
            ...list.map((r) => ({ key: String(r.id), label: r.title })),
            { key: "keep", label: t("Keep answers …") },
          ],
          onClick: ({ key }) => {
            const reply = list.find((r) => String(r.id) === key);
            if (!reply) setKeeping(true);
            else put(text.trim() ? `${text.trimEnd()}\n\n${reply.filled}` : reply.filled);
          },
        }}
      >
        <Button loading={coming}>{t("Kept answers")}</Button>
      </Dropdown>
      {keeping && <Keep text={text} list={list} close={() => setKeeping(false)} />}
    </>
  );
}

type KeepProps = { text: string; list: Schemas["Reply"][]; close: () => void };

// Keep keeps what is written as an answer to be used again, and takes others away.
function Keep({ text, list, close }: KeepProps) {
  const { t } = useTranslation();
  const [title, setTitle] = useState("");
  const [words, setWords] = useState(text);
  const keep = useChange({
    once: true,
    send: () => take(api.POST("/api/desk/replies", { body: { title, text: words } })),
    refreshes: ["replies"],
    done: close,
  });
  const drop = useChange({
    send: (reply: number) => take(api.DELETE("/api/desk/replies/{reply}", { params: { path: { reply } } })),
    refreshes: ["replies"],
  });
  return (
    <Modal
      open
      title={t("Keep an answer")}
      okText={t("Keep it")}
      okButtonProps={{ loading: keep.busy }}
      cancelText={t("Leave it")}
      onOk={() => keep.send()}
      onCancel={close}
    >
      <Labelled id="reply-title" wording={t("Title")} fault={keep.of("title")}>
        <Input id="reply-title" value={title} maxLength={100} onChange={(e) => setTitle(e.target.value)} />
      </Labelled>
      <Labelled
        id="reply-text"
        wording={t("Text")}
        help={t("{{field}} shows the answer with that key.", { field: "{{key}}" })}
        fault={keep.of("text")}
      >
        <Input.TextArea
          id="reply-text"
          rows={6}
          maxLength={5000}
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      </Labelled>
      {list.length > 0 && <h3>{t("Kept answers")}</h3>}
      {list.map((r) => (
        <div key={r.id} className="row">
          <span className="grow">{r.title}</span>
          <Button
            size="small"
            aria-label={t("Take {{what}} away", { what: r.title })}
            onClick={() => drop.send(r.id)}
          >
            ×
          </Button>
        </div>
      ))}
      <Trouble error={drop.problem} />
    </Modal>
  );
}
