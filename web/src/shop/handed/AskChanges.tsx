import { Button, Checkbox, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { money } from "../../shared/format";
import { Files } from "../../shared/handover/Files";
import { Look } from "../../shared/handover/Look";
import { type Address, type HandedFile, type Mark, markable } from "../../shared/handover/types";
import { Labelled } from "../../shared/Labelled";
import { Trouble } from "../../shared/Trouble";
import { useKept } from "../../shared/useKept";
import { useAnswer } from "./Handed";

type Props = {
  h: Schemas["Handover"];
  link: string;
  address: Address;
  currency: string;
  close: () => void;
};

type Wish = { words: string; marks: Mark[] };

// AskChanges collects what should be different: words, and marks on pictures and pages.
// What was said stays until it is sent, also through a reload.
export function AskChanges({ h, link, address, currency, close }: Props) {
  const { t } = useTranslation();
  const [wish, setWish] = useKept<Wish>(`ruvo.wish.${h.id}`, { words: "", marks: [] });
  const [at, setAt] = useState<number>();
  const [agreed, setAgreed] = useState(false);
  const answer = useAnswer(link, h.id, () => {
    setWish({ words: "", marks: [] });
    close();
  });
  const looked = h.files.filter(markable);
  const words = (i: number, text: string) =>
    setWish((w) => ({ ...w, marks: w.marks.map((m, k) => (k === i ? { ...m, words: text } : m)) }));
  const drop = (i: number) => setWish((w) => ({ ...w, marks: w.marks.filter((_, k) => k !== i) }));
  const list = (
    <ol className="bare stack mark-list">
      {wish.marks.map((m, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: marks are known by their numbers
        <li key={i} className="row">
          <span className="spot-number num">{i + 1}</span>
          <Input
            className="grow"
            aria-label={t("What should be different at mark {{n}}", { n: i + 1 })}
            placeholder={t("What should be different here?")}
            value={m.words}
            maxLength={5000}
            onChange={(e) => words(i, e.target.value)}
          />
          <Button size="small" aria-label={t("Take mark {{n}} away", { n: i + 1 })} onClick={() => drop(i)}>
            ×
          </Button>
        </li>
      ))}
    </ol>
  );
  const look = (f: HandedFile) => setAt(looked.findIndex((x) => x.id === f.id));
  const price = h.price !== undefined ? money(h.price, currency) : undefined;
  return (
    <form
      className="stack ask-changes"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        answer.send({
          action: "changes",
          words: wish.words,
          marks: wish.marks,
          agreed: h.price,
        });
      }}
    >
      <h3>{t("What should be different?")}</h3>
      {looked.length > 0 && (
        <p className="small quiet">
          {t("Open a picture or a page and press where something should be different.")}
        </p>
      )}
      <Files files={looked} address={address} look={look} />
      {list}
      <Labelled id={`wish-${h.id}`} wording={t("In words")} fault={answer.of("words") ?? answer.of("marks")}>
        <Input.TextArea
          id={`wish-${h.id}`}
          rows={3}
          maxLength={5000}
          value={wish.words}
          onChange={(e) => setWish((w) => ({ ...w, words: e.target.value }))}
        />
      </Labelled>
      {price && (
        <Checkbox checked={agreed} onChange={(e) => setAgreed(e.target.checked)}>
          {t("This round of changes costs {{price}}. I agree to that.", { price })}
        </Checkbox>
      )}
      <Trouble error={answer.problem} />
      <div className="row">
        <Button
          type="primary"
          htmlType="submit"
          loading={answer.busy}
          disabled={price !== undefined && !agreed}
        >
          {t("Ask for these changes")}
        </Button>
        <Button onClick={close}>{t("Back")}</Button>
      </div>
      {at !== undefined && at >= 0 && (
        <Look
          files={looked}
          at={at}
          go={setAt}
          address={address}
          marks={wish.marks}
          add={(place) => setWish((w) => ({ ...w, marks: [...w.marks, { ...place, words: "" }] }))}
          beside={
            wish.marks.length > 0 ? (
              list
            ) : (
              <p className="quiet">
                {t("Press where something should be different, or draw a frame around it.")}
              </p>
            )
          }
        />
      )}
    </form>
  );
}
