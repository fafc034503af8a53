import { useQuery } from "@tanstack/react-query";
import { Button, Checkbox, Input, Modal } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, take } from "../../shared/api/client";
import { Html } from "../../shared/Html";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { BesideFiles } from "./BesideFiles";
import { useBeside } from "./useBeside";
import { type Item, useDecide } from "./useDecide";

// ItemBeside is what lies beside an item: its checklist, papers made from the answers,
// and a note. Where an item can be moved, the dialog takes a first note.
export function ItemBeside({ item: shown, brief }: { item: Item; brief?: boolean }) {
  const { t } = useTranslation();
  const decide = useDecide();
  const item = decide.newest(shown);
  const beside = useBeside(item, decide);
  const [writing, setWriting] = useState(false);
  const [laying, setLaying] = useState(false);
  const [note, setNote] = useState(item.note ?? "");
  const [paper, setPaper] = useState<number>();
  const ticked = (item.checks ?? []).filter((c) => c.done).map((c) => c.text);
  const done = item.state === "done";
  const keep = async () => {
    setWriting(false);
    if (note !== (item.note ?? "")) await decide.decide(item, { note });
  };
  return (
    <>
      {item.checks && !done && (
        <div className="item-checks">
          {item.checks.map((c) => (
            <Checkbox
              key={c.text}
              checked={c.done}
              onChange={(e) =>
                decide.decide(item, {
                  ticked: e.target.checked ? [...ticked, c.text] : ticked.filter((x) => x !== c.text),
                })
              }
            >
              {c.text}
            </Checkbox>
          ))}
        </div>
      )}
      {writing ? (
        <Input.TextArea
          autoFocus
          aria-label={t("Note on {{what}}", { what: item.title })}
          rows={2}
          value={note}
          maxLength={5000}
          onChange={(e) => setNote(e.target.value)}
          onBlur={keep}
        />
      ) : (
        item.note && (
          <button type="button" className="item-note small" onClick={() => setWriting(true)}>
            <span className="sr">{t("Note")}: </span>
            {item.note}
          </button>
        )
      )}
      <div className="row small item-links" hidden={!item.papers && (brief || writing || done)}>
        {item.papers?.map((title, i) => (
          <button type="button" className="linkish" key={title} onClick={() => setPaper(i)}>
            {title}
          </button>
        ))}
        {!brief && !writing && !item.note && !done && (
          <button type="button" className="linkish" onClick={() => setWriting(true)}>
            {t("Note")}
            <span className="sr"> {item.title}</span>
          </button>
        )}
        {!brief && !laying && !done && (
          <button type="button" className="linkish" onClick={() => setLaying(true)}>
            {t("File")}
            <span className="sr"> {item.title}</span>
          </button>
        )}
      </div>
      {(!brief || item.files || item.beside) && !done && (
        <BesideFiles
          own={beside.files}
          coming={beside.coming}
          step={item.beside ?? []}
          adding={laying}
          set={brief ? undefined : beside.set}
        />
      )}
      <Trouble error={decide.problem} />
      {paper !== undefined && <Paper item={item} at={paper} close={() => setPaper(undefined)} />}
    </>
  );
}

function Paper({ item, at, close }: { item: Item; at: number; close: () => void }) {
  const { t } = useTranslation();
  const paper = useQuery({
    queryKey: ["paper", item.id, at, item.version],
    queryFn: () =>
      take(
        api.GET("/api/desk/items/{item}/papers/{paper}", { params: { path: { item: item.id, paper: at } } }),
      ),
  });
  return (
    <Modal
      open
      title={paper.data?.title ?? ""}
      onCancel={close}
      footer={
        <>
          <Button
            disabled={!paper.data}
            onClick={() => paper.data && navigator.clipboard.writeText(paper.data.text)}
          >
            {t("Copy")}
          </Button>
          <Button disabled={!paper.data} onClick={() => window.print()}>
            {t("Print")}
          </Button>
        </>
      }
    >
      <Trouble error={lost(paper)} />
      <div className="paper">{paper.data && <Html html={paper.data.html} />}</div>
    </Modal>
  );
}
