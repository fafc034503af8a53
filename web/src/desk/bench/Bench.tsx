import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { useParams } from "react-router";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { lost } from "../../shared/lost";
import { CurrencyContext } from "../../shared/questions/currency";
import { loadFields } from "../../shared/questions/fields";
import { SeasonsContext } from "../../shared/questions/seasons";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useEvaluation } from "../../shared/useEvaluation";
import { Rehearse } from "../rehearse/Rehearse";
import type { Draft, Selected } from "./draft";
import { Editing } from "./Editing";
import { Differences, Editions } from "./Editions";
import { Head, type Looking } from "./Head";
import { Refused } from "./Kept";
import { beginDraft, Live, type Tried } from "./Live";
import { Path } from "./Path";
import { Presence } from "./Presence";
import { ReplayView } from "./ReplayView";
import { Repricing } from "./Repricing";
import { TakeDialog } from "./TakeDialog";
import { DaysContext, TrialContext, useDraftDays } from "./trial";
import { useDraft } from "./useDraft";
import "./bench.css";

const keystroke = 30; // milliseconds: the seller sees every letter at once

const allSheets = { queryKey: ["sheets"], queryFn: () => take(api.GET("/api/desk/sheets")) };

// Bench is where a product is made: the path of its questions and steps, what
// is selected, and the product live. The draft is kept while it is typed.
export function Bench() {
  const { id = "" } = useParams();
  const queries = useQueryClient();
  const product = useQuery({
    queryKey: ["product", id],
    queryFn: async () => {
      const [p] = await Promise.all([
        take(api.GET("/api/desk/products/{id}", { params: { path: { id: Number(id) } } })),
        queries.prefetchQuery(allSheets), // their names stand in the path, and would push it down
      ]);
      await loadFields([...(p.draft.questions ?? []), ...p.linked]);
      return p;
    },
    refetchOnWindowFocus: false,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  if (lost(product)) return <Trouble error={product.error} again={() => product.refetch()} />;
  if (!product.data) return null;
  return <Making key={product.dataUpdatedAt} start={product.data} reload={() => product.refetch()} />;
}

// useShortcuts undoes and redoes with the keys that people know; in a field
// that is being typed in, the browser's own undoing goes first.
function useShortcuts(travel: (direction: "undo" | "redo") => void) {
  const latest = useRef(travel);
  latest.current = travel;
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement;
      if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== "z" || typing) return;
      e.preventDefault();
      latest.current(e.shiftKey ? "redo" : "undo");
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}

// usePublishing publishes the draft. The first press shows what the draft would
// make of the last orders, if that is anything else; the second one publishes
// it all the same.
function usePublishing(d: ReturnType<typeof useDraft>, lookAtReplay: () => void) {
  return useChange({
    send: (seen: boolean) =>
      d.whenKept(async () => {
        if (!seen && d.product.edition > 0) {
          const replay = await take(
            api.POST("/api/desk/products/{id}/replay", { params: { path: { id: d.product.id } }, body: {} }),
          );
          if (replay.rows.length > 0) {
            lookAtReplay();
            return;
          }
        }
        d.setProduct(
          await take(
            api.POST("/api/desk/products/{id}/publish", {
              params: { path: { id: d.product.id } },
              body: { version: d.version.current },
            }),
          ),
        );
      }),
    refreshes: ["products"],
  });
}

function Making({ start, reload }: { start: Schemas["DeskProduct"]; reload: () => void }) {
  const { t } = useTranslation();
  const d = useDraft(start);
  const { draft, change } = d;
  const [selected, setSelected] = useState<Selected>(() => {
    const first = start.draft.questions?.[0];
    return first ? { part: "question", key: first.key } : { part: "product" };
  });
  const [input, setInput] = useState<Tried>(() => ({
    quantity: 1,
    answers: beginDraft(start.draft),
    later: [],
  }));
  const [looking, setLooking] = useState<Looking>();
  const { known: _, ...tried } = input;
  const trial = useEvaluation(
    { draft, ...tried },
    (body, signal) =>
      take(api.POST("/api/desk/products/{id}/try", { params: { path: { id: start.id } }, body, signal })),
    keystroke,
  );
  // A price list that lacks an amount by now cannot be tried any more.
  const unlisted = trial.error instanceof Problem && trial.error.of("currency") !== undefined;
  useEffect(() => {
    if (unlisted) setInput(({ currency: _, ...rest }) => rest);
  }, [unlisted]);
  const sheets = useQuery(allSheets);
  const linked = trial.result?.linked ?? d.product.linked;
  const days = useDraftDays(start.id, trial.result?.page, draft, input);
  const seasons = useMemo(
    () => [...(draft.booking?.seasons ?? []), ...(draft.booking?.fixed ?? [])].map((x) => x.name),
    [draft.booking],
  );
  const findings = trial.result?.findings ?? d.product.findings;
  const publish = usePublishing(d, () => setLooking("replay"));
  const { product } = d;
  useShortcuts(d.travel);
  return (
    <TrialContext value={trial.result}>
      <SeasonsContext value={seasons}>
        <DaysContext value={days}>
          <CurrencyContext value={draft.currency}>
            <main className="bench">
              {product.unsold && draft.currency === product.sells_in && (
                <div className="notice bad" role="alert">
                  {t("Nobody can buy the edition on sale. Mend the draft and publish it:")}{" "}
                  {product.unsold.map((f) => f.text).join(" ")}
                </div>
              )}
              {draft.currency !== product.sells_in && (
                <Repricing id={product.id} draft={draft} to={product.sells_in} change={d.change} />
              )}
              <Head
                draft={d}
                findings={findings}
                publish={() => publish.send(false)}
                publishing={publish.busy}
                look={(at) => d.keep().then(() => setLooking(at))}
              />
              <Trouble error={publish.problem} />
              <Presence
                id={start.id}
                version={d.kept.state === "kept" ? d.version.current : undefined}
                reload={reload}
              />
              <Beside
                looking={looking}
                close={() => setLooking(undefined)}
                product={product}
                change={change}
                publish={() => publish.send(true)}
                sheets={sheets.data ?? []}
                reload={reload}
              />
              <Refused kept={d.kept} keep={d.keep} reload={reload} here={`/products/${start.id}`} />
              <div className="bench-panes">
                <Path
                  draft={draft}
                  change={change}
                  selected={selected}
                  select={setSelected}
                  findings={findings}
                  efforts={trial.result?.efforts}
                  linked={linked}
                  sheets={sheets.data}
                />
                <Editing
                  product={product}
                  draft={draft}
                  change={change}
                  selected={selected}
                  select={setSelected}
                  findings={findings}
                  linked={linked}
                  sheets={sheets.data}
                />
                <Live
                  id={start.id}
                  trial={trial.result}
                  stale={trial.stale}
                  error={trial.error}
                  again={trial.again}
                  input={input}
                  setInput={setInput}
                  findings={findings}
                  draft={draft}
                  marked={selected.part === "question" ? selected.key : undefined}
                  select={setSelected}
                />
              </div>
            </main>
          </CurrencyContext>
        </DaysContext>
      </SeasonsContext>
    </TrialContext>
  );
}

type BesideProps = {
  looking: Looking | undefined;
  close: () => void;
  product: Schemas["DeskProduct"];
  change: (draft: Draft) => void;
  publish: () => void;
  sheets: Schemas["SheetRow"][];
  reload: () => void;
};

// Beside is what is looked at beside the draft: what it changes, earlier
// editions, the last orders under it.
function Beside({ looking, close, product, change, publish, sheets, reload }: BesideProps) {
  const { t } = useTranslation();
  const { id, version } = product;
  switch (looking) {
    case "differences":
      return <Differences id={id} version={version} close={close} />;
    case "editions":
      return (
        <Editions
          id={id}
          close={close}
          bring={(draft) => {
            change(draft);
            close();
          }}
        />
      );
    case "take":
      return <TakeDialog product={product} sheets={sheets} close={close} done={reload} />;
    case "rehearse":
      return <Rehearse product={id} close={close} />;
    case "replay":
      return (
        <ReplayView
          of={["product", id, version]}
          load={() =>
            take(api.POST("/api/desk/products/{id}/replay", { params: { path: { id } }, body: {} }))
          }
          title={t("The last orders under this draft")}
          publishing={t("Publish edition {{n}}", { n: product.edition + 1 })}
          close={close}
          publish={() => {
            close();
            publish();
          }}
        />
      );
  }
}
