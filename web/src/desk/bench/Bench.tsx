import { useQuery } from "@tanstack/react-query";
import { Button, Dropdown } from "antd";
import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { useParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { randomName } from "../../shared/name";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useEvaluation } from "../../shared/useEvaluation";
import { BookingEditor } from "./BookingEditor";
import type { Draft, Selected } from "./draft";
import { Differences, Editions } from "./Editions";
import { KeptMark, Refused } from "./Kept";
import { LinkedEditor } from "./LinkedEditor";
import { beginDraft, Live, type Tried } from "./Live";
import { Path } from "./Path";
import { PriceEditor } from "./PriceEditor";
import { ProductEditor } from "./ProductEditor";
import { QuestionEditor } from "./QuestionEditor";
import { ReplayView } from "./ReplayView";
import { Repricing } from "./Repricing";
import { StepEditor } from "./StepEditor";
import { TrialContext } from "./trial";
import { useDraft } from "./useDraft";
import "./bench.css";

const keystroke = 30; // milliseconds: the seller sees every letter at once

// Bench is where a product is made: the path of its questions and steps, what
// is selected, and the product live. The draft is kept while it is typed.
export function Bench() {
  const { id = "" } = useParams();
  const product = useQuery({
    queryKey: ["product", id],
    queryFn: () => take(api.GET("/api/desk/products/{id}", { params: { path: { id: Number(id) } } })),
    refetchOnWindowFocus: false,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  if (product.error) return <Trouble error={product.error} again={() => product.refetch()} />;
  if (!product.data) return null;
  return <Making key={product.dataUpdatedAt} start={product.data} reload={() => product.refetch()} />;
}

type Looking = "differences" | "editions" | "replay";

// windowName names this window; a reload keeps the name.
function windowName() {
  const name = sessionStorage.getItem("ruvo.window") ?? randomName();
  sessionStorage.setItem("ruvo.window", name);
  return name;
}

// usePresence tells the server that this window has the product open, and asks
// who else has.
function usePresence(id: number) {
  const [window] = useState(windowName);
  const presence = useQuery({
    queryKey: ["presence", id, window],
    queryFn: () =>
      take(api.POST("/api/desk/products/{id}/presence/{window}", { params: { path: { id, window } } })),
    refetchInterval: 4_000,
    staleTime: 0,
    gcTime: 0,
    retry: false,
  });
  return presence.data;
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

// placeOf knows a question by its place while its key follows its wording.
const placeOf = (draft: Draft, key: string) => draft.questions?.findIndex((q) => q.key === key);

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
  const sheets = useQuery({ queryKey: ["sheets"], queryFn: () => take(api.GET("/api/desk/sheets")) });
  const linked = trial.result?.linked ?? d.product.linked;
  const fromSheet =
    selected.part === "question" && !draft.questions?.some((q) => q.key === selected.key)
      ? linked.find((q) => q.key === selected.key)
      : undefined;
  const findings = trial.result?.findings ?? d.product.findings;
  const errors = findings.filter((f) => f.error).length;
  // The first press shows what the draft would make of the last orders, if that
  // is anything else; the second one publishes it all the same.
  const publish = useChange({
    send: (seen: boolean) =>
      d.whenKept(async () => {
        if (!seen && d.product.edition > 0) {
          const replay = await take(
            api.POST("/api/desk/products/{id}/replay", { params: { path: { id: start.id } }, body: {} }),
          );
          if (replay.rows.length > 0) {
            setLooking("replay");
            return;
          }
        }
        d.setProduct(
          await take(
            api.POST("/api/desk/products/{id}/publish", {
              params: { path: { id: start.id } },
              body: { version: d.version.current },
            }),
          ),
        );
      }),
    refreshes: ["products"],
  });
  const { product } = d;
  const presence = usePresence(start.id);
  const newer = presence && presence.version > d.version.current && d.kept.state === "kept";
  useShortcuts(d.travel);
  return (
    <TrialContext value={trial.result}>
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
        <div className="bench-head row">
          <h1>{draft.title || t("Product without a title")}</h1>
          <span className="quiet small">
            {product.edition > 0
              ? t("edition {{n}} is on sale", { n: product.edition })
              : t("not on sale yet")}
            {product.changed && product.edition > 0 && ` · ${t("draft has changes")}`}
            {" · "}
            <KeptMark kept={d.kept} dirty={d.dirty} />
          </span>
          <span className="grow" />
          {findings.length > 0 && (
            <span className={errors > 0 ? "mark bad" : "mark attention"}>
              ▲{" "}
              {errors > 0
                ? t("{{count}} mistakes", { count: errors })
                : t("{{count}} things to look at", { count: findings.length })}
            </span>
          )}
          <Button disabled={!d.canUndo} onClick={() => d.travel("undo")} title="Ctrl+Z">
            {t("Undo")}
          </Button>
          <Button disabled={!d.canRedo} onClick={() => d.travel("redo")} title="Ctrl+Shift+Z">
            {t("Redo")}
          </Button>
          <Dropdown
            trigger={["click"]}
            menu={{
              items: [
                {
                  key: "differences",
                  label: t("What the draft changes"),
                  disabled: product.edition === 0,
                },
                { key: "editions", label: t("Earlier editions"), disabled: product.edition === 0 },
                {
                  key: "replay",
                  label: t("The last orders under this draft"),
                  disabled: product.edition === 0,
                },
                ...(product.edition > 0
                  ? [
                      {
                        key: "shop",
                        label: (
                          <a href={`/p/${product.slug}`} target="_blank" rel="noreferrer">
                            {t("See it in the shop")}
                          </a>
                        ),
                      },
                    ]
                  : []),
              ],
              onClick: ({ key }) => {
                if (key !== "shop") d.keep().then(() => setLooking(key as Looking));
              },
            }}
          >
            <Button>{t("More")}</Button>
          </Dropdown>
          <Button
            type="primary"
            loading={publish.busy}
            disabled={errors > 0 || !product.changed}
            onClick={() => publish.send(false)}
          >
            {t("Publish edition {{n}}", { n: product.edition + 1 })}
          </Button>
        </div>
        <Trouble error={publish.problem} />
        {/* What comes by itself pushes nothing away from who aims at it. */}
        <div className="bench-told">
          {presence && presence.others.length > 0 && (
            <div className="notice attention" role="status">
              {t("{{names}} has this product open too. Nothing is overwritten; whoever keeps last is told.", {
                names: presence.others.join(", "),
              })}
            </div>
          )}
          {newer && (
            <div className="notice attention row" role="status">
              <span className="grow">
                {t("{{name}} changed this draft meanwhile.", { name: presence.author || t("Somebody") })}
              </span>
              <Button onClick={reload}>{t("Look at the newer state")}</Button>
            </div>
          )}
        </div>
        {looking === "differences" && (
          <Differences id={start.id} version={product.version} close={() => setLooking(undefined)} />
        )}
        {looking === "editions" && (
          <Editions
            id={start.id}
            close={() => setLooking(undefined)}
            bring={(draft) => {
              change(draft);
              setLooking(undefined);
            }}
          />
        )}
        <Refused kept={d.kept} keep={d.keep} reload={reload} here={`/products/${start.id}`} />
        {looking === "replay" && (
          <ReplayView
            id={start.id}
            version={product.version}
            edition={product.edition + 1}
            close={() => setLooking(undefined)}
            publish={() => {
              setLooking(undefined);
              publish.send(true);
            }}
          />
        )}
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
          <section className="bench-middle" aria-label={t("What is selected")}>
            {selected.part === "price" && (
              <PriceEditor id={start.id} draft={draft} change={change} linked={linked} findings={findings} />
            )}
            {selected.part === "product" && <ProductEditor draft={draft} change={change} />}
            {selected.part === "booking" && <BookingEditor draft={draft} change={change} />}
            {fromSheet && (
              <LinkedEditor
                key={fromSheet.key}
                draft={draft}
                change={change}
                q={fromSheet}
                linked={linked}
                sheet={sheets.data?.find((s) => s.id === fromSheet.sheet)}
                findings={findings}
              />
            )}
            {selected.part === "question" && !fromSheet && (
              <QuestionEditor
                key={placeOf(draft, selected.key)}
                draft={draft}
                change={change}
                at={selected.key}
                select={setSelected}
                findings={findings}
                used={product.used_keys}
                linked={linked}
                ties={trial.result?.ties}
              />
            )}
            {selected.part === "step" && (
              <StepEditor
                key={selected.key}
                draft={draft}
                change={change}
                at={selected.key}
                select={setSelected}
                findings={findings}
              />
            )}
          </section>
          <Live
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
    </TrialContext>
  );
}
