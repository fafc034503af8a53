import { useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { money } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { lost } from "../../shared/lost";
import { CurrencyContext } from "../../shared/questions/currency";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import type { Draft, Selected } from "./draft";
import { KeptMark, Refused } from "./Kept";
import { Path } from "./Path";
import { Values } from "./PriceEditor";
import { QuestionEditor } from "./QuestionEditor";
import { ReplayView } from "./ReplayView";
import { Repricing } from "./Repricing";
import { StepEditor } from "./step/StepEditor";
import { TrialContext } from "./trial";
import { useKeeping } from "./useKeeping";
import "./bench.css";

// SheetBench is where a sheet is made: its questions, what is selected, and
// which products its changes will reach.
export function SheetBench() {
  const { id = "" } = useParams();
  const sheet = useQuery({
    queryKey: ["sheet", id],
    queryFn: () => take(api.GET("/api/desk/sheets/{id}", { params: { path: { id: Number(id) } } })),
    refetchOnWindowFocus: false,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  if (lost(sheet)) return <Trouble error={sheet.error} again={() => sheet.refetch()} />;
  if (!sheet.data) return null;
  return <Making key={sheet.dataUpdatedAt} start={sheet.data} reload={() => sheet.refetch()} />;
}

type Typed = Pick<
  Schemas["SheetView"],
  "name" | "questions" | "charges" | "values" | "steps" | "rule" | "currency"
>;

function Making({ start, reload }: { start: Schemas["SheetView"]; reload: () => void }) {
  const { t } = useTranslation();
  const [sheet, setSheet] = useState(start);
  const version = useRef(start.version);
  const k = useKeeping<Typed>(
    {
      name: start.name,
      questions: start.questions,
      charges: start.charges,
      values: start.values,
      steps: start.steps,
      rule: start.rule,
      currency: start.currency,
    },
    async (sent) => {
      const s = await take(
        api.PUT("/api/desk/sheets/{id}", {
          params: { path: { id: start.id } },
          body: { version: version.current, ...sent },
        }),
      );
      version.current = s.version;
      setSheet(s);
    },
  );
  const { value: typed, setValue: setTyped, dirty } = k;
  const [selected, setSelected] = useState<Selected>(() => {
    const first = start.questions[0];
    return first ? { part: "question", key: first.key } : { part: "product" };
  });
  const publish = useChange({
    send: () =>
      k.whenKept(async () => {
        setSheet(
          await take(
            api.POST("/api/desk/sheets/{id}/publish", {
              params: { path: { id: start.id } },
              body: { version: version.current },
            }),
          ),
        );
      }),
    refreshes: ["sheets", "products"],
  });
  // The questions are edited as those of a product are.
  const draft: Draft = {
    title: typed.name,
    currency: typed.currency,
    price: 0,
    tax: "0",
    questions: typed.questions,
    charges: typed.charges,
    values: typed.values,
    steps: typed.steps,
  };
  const change = (next: Draft) =>
    setTyped((old) => ({
      ...old,
      currency: next.currency,
      questions: next.questions ?? [],
      charges: next.charges ?? [],
      values: next.values ?? [],
      steps: next.steps ?? [],
    }));
  const [looking, setLooking] = useState(false);
  const errors = sheet.findings.filter((f) => f.error).length;
  const selectedAt =
    selected.part === "question" ? typed.questions.findIndex((q) => q.key === selected.key) : -1;
  return (
    <TrialContext value={{ says: sheet.says, names: sheet.names }}>
      <CurrencyContext value={typed.currency}>
        <main className="bench">
          {typed.currency !== sheet.sells_in && (
            <Repricing id={0} draft={draft} to={sheet.sells_in} change={change} />
          )}
          <div className="bench-head row">
            <h1>{typed.name}</h1>
            <span className="quiet small">
              {t("sheet")} · {sheet.published ? t("published") : t("not published yet")} ·{" "}
              <KeptMark kept={k.kept} dirty={dirty} />
            </span>
            {sheet.published && <Link to={`/sheets/${start.id}/answers`}>{t("Answers")}</Link>}
            <span className="grow" />
            {errors > 0 && <span className="mark bad">▲ {t("{{count}} mistakes", { count: errors })}</span>}
            <Button disabled={dirty || errors > 0 || !sheet.changed} onClick={() => setLooking(true)}>
              {t("The last orders under it …")}
            </Button>
            <Button
              type="primary"
              loading={publish.busy}
              disabled={dirty || errors > 0 || !sheet.changed}
              onClick={() => publish.send()}
            >
              {t("Publish the sheet")}
            </Button>
          </div>
          {looking && (
            <ReplayView
              of={["sheet", start.id, sheet.version]}
              load={() =>
                take(api.POST("/api/desk/sheets/{id}/replay", { params: { path: { id: start.id } } }))
              }
              title={t("The last orders under this sheet")}
              close={() => setLooking(false)}
              publish={() => {
                setLooking(false);
                publish.send();
              }}
              publishing={t("Publish the sheet")}
            />
          )}
          <Refused kept={k.kept} keep={k.keep} reload={reload} here={`/sheets/${start.id}`} />
          {publish.problem !== undefined && (
            <div className="bench-refused">
              <Trouble error={publish.problem} />
            </div>
          )}
          <div className="bench-panes">
            <Path
              draft={draft}
              change={change}
              selected={selected}
              select={setSelected}
              findings={sheet.findings}
              ofSheet
            />
            <section className="bench-middle" aria-label={t("What is selected")}>
              {selected.part === "question" ? (
                <QuestionEditor
                  key={selectedAt}
                  draft={draft}
                  change={change}
                  at={selected.key}
                  select={setSelected}
                  findings={sheet.findings}
                  used={sheet.published ? sheet.questions.map((q) => q.key) : []}
                  ties={sheet.ties}
                  ofSheet
                />
              ) : selected.part === "price" ? (
                <Values draft={draft} change={change} findings={sheet.findings} />
              ) : selected.part === "step" ? (
                <StepEditor
                  key={selected.key}
                  draft={draft}
                  change={change}
                  at={selected.key}
                  select={setSelected}
                  findings={sheet.findings}
                />
              ) : (
                <div className="empty">{t("Add the first question at the left.")}</div>
              )}
            </section>
            <section className="live" aria-label={t("Where it is used")}>
              <Using typed={typed} set={(part) => setTyped((old) => ({ ...old, ...part }))} sheet={sheet} />
            </section>
          </div>
        </main>
      </CurrencyContext>
    </TrialContext>
  );
}

// span writes a price range in short.
const span = (r: Schemas["PriceRange"], currency: string) =>
  r.least === r.most
    ? money(r.least, currency)
    : r.unlimited
      ? `${money(r.least, currency)} – …`
      : `${money(r.least, currency)} – ${money(r.most, currency)}`;

type UsingProps = { typed: Typed; set: (part: Partial<Typed>) => void; sheet: Schemas["SheetView"] };

// Using says which products use the sheet, and what publishing will change.
function Using({ typed, set, sheet }: UsingProps) {
  const { t } = useTranslation();
  const products = useQuery({ queryKey: ["products"], queryFn: () => take(api.GET("/api/desk/products")) });
  const { rule } = typed;
  const by = rule.all ? "all" : (rule.categories?.length ?? 0) > 0 ? "category" : "named";
  const [how, setHow] = useState(by);
  return (
    <div className="sheet stack sheet-using">
      <Labelled id="sheet-name" wording={t("Name of the sheet")}>
        <Input id="sheet-name" value={typed.name} onChange={(e) => set({ name: e.target.value })} />
      </Labelled>
      <Labelled id="sheet-rule" wording={t("Used by")}>
        <Select
          id="sheet-rule"
          value={how}
          onChange={(v) => {
            setHow(v);
            set({ rule: v === "all" ? { all: true } : {} });
          }}
          options={[
            { value: "named", label: t("products that name it") },
            { value: "category", label: t("products of a category") },
            { value: "all", label: t("all products, but for some") },
          ]}
        />
      </Labelled>
      {how === "category" && (
        <Labelled id="sheet-categories" wording={t("Categories")}>
          <Select
            id="sheet-categories"
            mode="tags"
            value={rule.categories ?? []}
            onChange={(categories: string[]) => set({ rule: { ...rule, all: undefined, categories } })}
          />
        </Labelled>
      )}
      {how !== "named" && (
        <Labelled id="sheet-except" wording={t("But not by")}>
          <Select
            id="sheet-except"
            mode="multiple"
            optionFilterProp="label"
            value={rule.except ?? []}
            onChange={(except: number[]) =>
              set({ rule: { ...rule, except: except.length > 0 ? except : undefined } })
            }
            options={(products.data ?? []).map((p) => ({ value: p.id, label: p.title }))}
          />
        </Labelled>
      )}
      <section>
        <h3>{t("Where it is used")}</h3>
        {sheet.used.length === 0 ? (
          <p className="small quiet">
            {t("No product uses it yet. Publish it, then name it on a product's path.")}
          </p>
        ) : (
          <ul className="said">
            {sheet.used.map((u) => (
              <li key={u.id}>
                <Link to={`/products/${u.id}`}>{u.title}</Link>{" "}
                <span className="small quiet">{u.named ? t("names it") : t("by the rule")}</span>
              </li>
            ))}
          </ul>
        )}
      </section>
      <section>
        <h3>{t("What publishing will change")}</h3>
        {sheet.reach.length === 0 && <p className="small quiet">{t("No product changes.")}</p>}
        <ul className="said">
          {sheet.reach.map((r) => (
            <li key={r.id}>
              {r.title}{" "}
              <span className="small quiet">{r.sold ? t("gets a new edition") : t("its draft changes")}</span>
              {r.before && r.after && (
                <div className="small num">
                  {span(r.before, r.currency ?? sheet.currency)}
                  {span(r.before, r.currency ?? sheet.currency) !==
                    span(r.after, r.currency ?? sheet.currency) && (
                    <> → {span(r.after, r.currency ?? sheet.currency)}</>
                  )}
                </div>
              )}
              {r.errors.map((e) => (
                <div key={e} className="notice bad small">
                  {e}
                </div>
              ))}
            </li>
          ))}
        </ul>
      </section>
      {sheet.findings.map((f) => (
        <div key={f.text} className="notice bad small">
          {f.text}
        </div>
      ))}
    </div>
  );
}
