import { useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import { api, take } from "../../shared/api/client";
import { Labelled } from "../../shared/Labelled";
import { WholeBox } from "../../shared/questions/boxes";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { BesideFiles } from "../work/BesideFiles";
import type { Draft } from "./draft";

type Gift = NonNullable<Draft["at_once"]>[number];
type Props = { draft: Draft; change: (draft: Draft) => void; product?: number };

// AtOnce asks what every buyer gets as soon as it is paid.
export function AtOnce({ draft, change, product }: Props) {
  const { t } = useTranslation();
  const gifts = draft.at_once ?? [];
  const set = (next: Gift[]) => change({ ...draft, at_once: next.length > 0 ? next : undefined });
  const key = () => {
    for (let n = gifts.length + 1; ; n++) if (!gifts.some((g) => g.key === `gift_${n}`)) return `gift_${n}`;
  };
  return (
    <>
      <h3>{t("Given at once")}</h3>
      <p className="small quiet">
        {t(
          "Files, links or a text that every buyer gets as soon as it is paid. It is no handover: what is made comes later.",
        )}
      </p>
      {gifts.map((g, i) => (
        <One
          key={g.key}
          g={g}
          draft={draft}
          set={(part) => set(gifts.map((x, k) => (k === i ? { ...x, ...part } : x)))}
          drop={() => set(gifts.filter((_, k) => k !== i))}
        />
      ))}
      <div className="row">
        <Button size="small" onClick={() => set([...gifts, { key: key(), title: t("For you at once") }])}>
          {t("Give something at once")}
        </Button>
      </div>
      {product !== undefined && gifts.length > 0 && <Buyers product={product} />}
    </>
  );
}

type OneProps = { g: Gift; draft: Draft; set: (part: Partial<Gift>) => void; drop: () => void };

function One({ g, draft, set, drop }: OneProps) {
  const { t } = useTranslation();
  const choices = (draft.questions ?? []).flatMap((q) => {
    const list = (q.settings as { choices?: { code: string; label: string }[] } | undefined)?.choices ?? [];
    return list.map((c) => ({ value: `${q.key} ${c.code}`, label: `${q.wording}: ${c.label}` }));
  });
  return (
    <fieldset className="sheet stack gift" aria-label={g.title}>
      <div className="row">
        <Input
          className="grow"
          aria-label={t("Title of what is given")}
          maxLength={200}
          value={g.title}
          onChange={(e) => set({ title: e.target.value })}
        />
        <Button aria-label={t("Take {{what}} away", { what: g.title })} onClick={drop}>
          ×
        </Button>
      </div>
      <BesideFiles
        own={g.files ?? []}
        step={[]}
        adding
        set={(files) => set({ files: files.length > 0 ? files : undefined })}
      />
      <Links
        of={g.key}
        links={g.links ?? []}
        set={(links) => set({ links: links.length > 0 ? links : undefined })}
      />
      <Labelled
        id={`${g.key}-text`}
        wording={t("Text")}
        help={t("{{field}} shows the answer with that key.", { field: "{{key}}" })}
      >
        <Input.TextArea
          id={`${g.key}-text`}
          rows={2}
          maxLength={5000}
          value={g.text ?? ""}
          onChange={(e) => set({ text: e.target.value || undefined })}
        />
      </Labelled>
      <Labelled id={`${g.key}-licence`} wording={t("What buyers may do with it")}>
        <Input.TextArea
          id={`${g.key}-licence`}
          rows={2}
          maxLength={5000}
          value={g.licence ?? ""}
          onChange={(e) => set({ licence: e.target.value || undefined })}
        />
      </Labelled>
      {choices.length > 0 && (
        <Labelled id={`${g.key}-for`} wording={t("Who gets it")}>
          <Select
            id={`${g.key}-for`}
            mode="multiple"
            virtual={false}
            placeholder={t("every buyer")}
            value={(g.codes ?? []).map((code) => `${g.of} ${code}`)}
            onChange={(list: string[]) => {
              const last = list.at(-1)?.split(" ")[0]; // of one question: the one chosen last
              const codes = list
                .filter((v) => v.split(" ")[0] === last)
                .map((v) => v.slice(v.indexOf(" ") + 1));
              set(codes.length > 0 ? { of: last, codes } : { of: undefined, codes: undefined });
            }}
            options={choices}
          />
        </Labelled>
      )}
      <div className="pair">
        <Labelled
          id={`${g.key}-downloads`}
          wording={t("Each file can be taken")}
          help={t("Times. Empty: any number.")}
        >
          <WholeBox
            id={`${g.key}-downloads`}
            value={g.downloads}
            onChange={(n) => set({ downloads: n || undefined })}
          />
        </Labelled>
        <Labelled id={`${g.key}-days`} wording={t("It can be had for")} help={t("Days. Empty: for ever.")}>
          <WholeBox id={`${g.key}-days`} value={g.days} onChange={(n) => set({ days: n || undefined })} />
        </Labelled>
      </div>
    </fieldset>
  );
}

type GivenLink = NonNullable<Gift["links"]>[number];
type LinksProps = { of: string; links: GivenLink[]; set: (links: GivenLink[]) => void };

const mostLinks = 20;

// Links lists the addresses that are given, each with what it is called.
function Links({ of, links, set }: LinksProps) {
  const { t } = useTranslation();
  const part = (i: number, p: Partial<GivenLink>) => set(links.map((l, k) => (k === i ? { ...l, ...p } : l)));
  return (
    <div className="stack">
      {links.map((l, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a link is known by its place
        <div className="row" key={i}>
          <Input
            className="grow"
            aria-label={t("Title of link {{n}}", { n: i + 1 })}
            placeholder={t("What the link is called")}
            maxLength={200}
            value={l.title}
            onChange={(e) => part(i, { title: e.target.value })}
          />
          <Input
            id={`${of}-link-${i}`}
            className="grow"
            type="url"
            aria-label={t("Address of link {{n}}", { n: i + 1 })}
            placeholder="https://"
            maxLength={2000}
            value={l.address}
            onChange={(e) => part(i, { address: e.target.value })}
          />
          <Button
            aria-label={t("Take {{what}} away", { what: l.title || t("link {{n}}", { n: i + 1 }) })}
            onClick={() => set(links.filter((_, k) => k !== i))}
          >
            ×
          </Button>
        </div>
      ))}
      {links.length < mostLinks && (
        <div>
          <Button size="small" onClick={() => set([...links, { title: "", address: "" }])}>
            {t("Add a link")}
          </Button>
        </div>
      )}
    </div>
  );
}

// Buyers tells earlier buyers that there is something newer for them.
function Buyers({ product }: { product: number }) {
  const { t } = useTranslation();
  const params = { path: { id: product } };
  const buyers = useQuery({
    queryKey: ["buyers", product],
    queryFn: () => take(api.GET("/api/desk/products/{id}/buyers", { params })),
    retry: false,
  });
  const tell = useChange({
    once: true,
    send: () => take(api.POST("/api/desk/products/{id}/buyers", { params })),
    refreshes: ["buyers"],
  });
  const open = (buyers.data?.buyers ?? 0) - (buyers.data?.told ?? 0);
  if (tell.done && tell.data)
    return (
      <div className="notice good" role="status">
        {t("{{count}} earlier buyers are told by mail.", { count: tell.data.told })}
      </div>
    );
  if (open <= 0) return null;
  return (
    <div className="notice row">
      <span className="grow">
        {t("{{count}} earlier buyers do not know that there is something newer on sale.", { count: open })}
      </span>
      <Button size="small" loading={tell.busy} onClick={() => tell.send()}>
        {t("Tell them")}
      </Button>
      <Trouble error={tell.problem} />
    </div>
  );
}
