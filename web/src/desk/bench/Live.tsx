import { useQuery } from "@tanstack/react-query";
import { Checkbox, Segmented, Select } from "antd";
import { useContext, useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, local, span } from "../../shared/format";
import { begin } from "../../shared/questions/begin";
import { CurrencyContext } from "../../shared/questions/currency";
import { QuestionField } from "../../shared/questions/QuestionField";
import { QuestionList } from "../../shared/questions/QuestionList";
import { faultsOf } from "../../shared/questions/types";
import { Stepper } from "../../shared/Stepper";
import { Slip, Steps } from "../../shared/slip/Slip";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";
import { Walks } from "../rehearse/Walks";
import { Waits } from "../work/WorkRow";
import type { Draft, Moment, Selected } from "./draft";
import { priceKeys, rangeWords } from "./PriceEditor";
import { PriceGrid } from "./PriceGrid";
import { useGroups } from "./Specials";
import { DaysContext } from "./trial";

// What is tried: the answers, and as whom and when.
export type Tried = {
  quantity: number;
  answers: Record<string, unknown>;
  later: string[];
  day?: string;
  group?: string;
  gift?: boolean;
  business?: boolean;
  known?: boolean;
  // by this price list
  currency?: string;
  // products that are taken along
  add_ons?: Schemas["TriedAddOn"][];
};

type Input = Tried;

// beginDraft gives the answers that a customer begins with.
export const beginDraft = (draft: Draft) =>
  begin(
    (draft.questions ?? []).map((q) => ({
      key: q.key,
      kind: q.kind,
      moment: q.moment,
      wording: q.wording,
      required: q.required ?? false,
      later: q.later ?? false,
      scope: q.scope,
      settings: q.settings ?? {},
      hint: "",
      choice_hints: {},
    })),
  );

type Props = {
  // of the product; 0 for a sheet
  id: number;
  trial?: Schemas["TrialResult"];
  stale: boolean;
  error: unknown;
  again: () => void;
  input: Input;
  setInput: (next: Input) => void;
  findings: Schemas["Finding"][];
  draft: Draft;
  // the selected question, whose lines of the slip are marked
  marked?: string;
  select: (s: Selected) => void;
};

// Live shows the product as a customer meets it, with the slip and the work
// that the tried answers make, and what is wrong with the draft.
export function Live({
  id,
  draft,
  marked,
  trial,
  stale,
  error,
  again,
  input,
  setInput,
  findings,
  select,
}: Props) {
  const { t } = useTranslation();
  const [tab, setTab] = useState<"try" | "slip" | "work" | "check">("try");
  const groups = useGroups();
  return (
    <section className="live" aria-label={t("Live")}>
      <Segmented
        block
        value={tab}
        onChange={setTab}
        options={[
          { value: "try", label: t("Try it") },
          { value: "slip", label: t("Slip") },
          { value: "work", label: `${t("Work")} ${trial?.items.length ?? ""}` },
          { value: "check", label: `${t("Check")} ${findings.length || ""}` },
        ]}
      />
      {error !== undefined && <Trouble error={error} again={again} />}
      {tab === "try" && trial && groups && (
        <CurrencyContext value={trial.page.currency}>
          <TryIt trial={trial} draft={draft} groups={groups} input={input} setInput={setInput} />
        </CurrencyContext>
      )}
      {(tab === "try" || tab === "slip") && trial && (
        <div className={tab === "slip" ? "sheet live-slip alone" : "sheet live-slip"}>
          <Slip
            slip={trial.evaluation.slip}
            stale={stale}
            marked={marked}
            wording={(line) => trial.page.questions.find((q) => q.key === line.question)?.wording}
            go={(line) => line.question && select({ part: "question", key: line.question })}
            steps={trial.steps}
          />
          {trial.whole && (
            <Slip
              slip={trial.whole}
              stale={stale}
              title={t("With what is taken along, before it is answered")}
            />
          )}
          <NotCounted trial={trial} />
          {trial.range && (
            <p className="quiet small slip-range">{rangeWords(t, trial.range, trial.page.currency)}</p>
          )}
          {trial.tabled.length > 1 && <PriceGrid id={id} draft={draft} input={input} trial={trial} />}
        </div>
      )}
      {tab === "work" && trial && <Planned items={trial.items} />}
      {tab === "check" && (
        <>
          <Check draft={draft} findings={findings} select={select} />
          <Walks product={id} />
        </>
      )}
    </section>
  );
}

// NotCounted lists the charges that make no line for these answers, and why.
function NotCounted({ trial }: { trial: Schemas["TrialResult"] }) {
  const { t } = useTranslation();
  const none = trial.steps.filter((s) => s.line < 0 && s.not);
  if (none.length === 0) return null;
  return (
    <details className="slip-none small">
      <summary>{t("What does not count here, and why")}</summary>
      <Steps steps={none} currency={trial.page.currency} />
    </details>
  );
}

function TryIt({
  trial,
  draft,
  groups,
  input,
  setInput,
}: {
  trial: Schemas["TrialResult"];
  draft: Draft;
  groups: NonNullable<ReturnType<typeof useGroups>>;
  input: Input;
  setInput: (next: Input) => void;
}) {
  const { t } = useTranslation();
  const { page, evaluation } = trial;
  const days = useContext(DaysContext);
  const [moment, setMoment] = useState<Moment>("choosing");
  const asked = new Map(evaluation.asked.map((a) => [a.key, a]));
  const questions = page.questions.filter((q) => q.moment === moment && asked.has(q.key));
  const [touched, setTouched] = useState<Set<string>>(new Set());
  const answer = (key: string, value: unknown) => {
    setTouched(new Set(touched).add(key));
    const answers = { ...input.answers };
    if (value === null) delete answers[key];
    else answers[key] = value;
    setInput({ ...input, answers });
  };
  const defer = (key: string, on: boolean) =>
    setInput({ ...input, later: on ? [...input.later, key] : input.later.filter((k) => k !== key) });
  const [wide, setWide] = useState(false);
  const kept = (key: string, kind: string) => (input.known ? sample(kind, key) : undefined);
  return (
    <div className={wide ? "sheet try wide" : "sheet try"}>
      <div className="row small try-as">
        <Segmented
          size="small"
          value={wide}
          onChange={setWide}
          options={[
            { value: false, label: t("phone") },
            { value: true, label: t("desktop") },
          ]}
        />
        <Checkbox
          checked={input.known ?? false}
          onChange={(e) => setInput({ ...input, known: e.target.checked })}
        >
          {t("known customer")}
        </Checkbox>
        <input
          type="date"
          className="plain-field small-field"
          aria-label={t("Tried as on this day")}
          title={t("Tried as on this day")}
          value={input.day ?? ""}
          onChange={(e) => setInput({ ...input, day: e.target.value || undefined })}
        />
        {groups.length > 0 && (
          <Select
            size="small"
            aria-label={t("Tried as a customer of the group")}
            value={input.group ?? ""}
            onChange={(group) => setInput({ ...input, group: group || undefined })}
            options={[
              { value: "", label: t("of no group") },
              ...groups.map((g) => ({ value: g.key, label: g.name })),
            ]}
          />
        )}
        <Select
          size="small"
          aria-label={t("Tried as ordered for")}
          value={input.gift ? "gift" : input.business ? "business" : ""}
          onChange={(of) =>
            setInput({ ...input, gift: of === "gift" || undefined, business: of === "business" || undefined })
          }
          options={[
            { value: "", label: t("for oneself") },
            { value: "gift", label: t("for somebody else") },
            { value: "business", label: t("for a business") },
          ]}
        />
        {(trial.sold_in?.length ?? 0) > 1 && (
          <Select
            size="small"
            aria-label={t("Tried in the currency")}
            value={input.currency ?? trial.sold_in?.[0] ?? ""}
            onChange={(c) => setInput({ ...input, currency: c === trial.sold_in?.[0] ? undefined : c })}
            options={(trial.sold_in ?? []).map((c) => ({ value: c, label: c }))}
          />
        )}
      </div>
      <Along draft={draft} input={input} setInput={setInput} />
      {(evaluation.picture || page.picture) && moment === "choosing" && (
        <img src={`/pictures/${evaluation.picture || page.picture}`} alt="" width="320" height="120" />
      )}
      <div className="row try-head">
        <h3 className="grow">{page.title}</h3>
        <button
          type="button"
          className="linkish small"
          onClick={() => setInput({ ...input, quantity: 1, answers: begin(page.questions), later: [] })}
        >
          {t("Start over")}
        </button>
      </div>
      <Segmented
        size="small"
        value={moment}
        onChange={setMoment}
        options={[
          { value: "choosing", label: t("Choosing") },
          { value: "paying", label: t("Paying") },
          { value: "briefing", label: t("After") },
          { value: "desk", label: t("Desk") },
        ]}
      />
      {moment === "choosing" && page.most_units > 1 && (
        <div className="row question">
          <strong>{t("How many?")}</strong>
          <Stepper
            small
            value={input.quantity}
            least={1}
            most={page.most_units}
            onChange={(quantity) => setInput({ ...input, quantity })}
          >
            <span className="num">{input.quantity}</span>
          </Stepper>
        </div>
      )}
      {questions.length === 0 && <p className="quiet small">{t("Nothing is asked at this moment.")}</p>}
      <QuestionList
        questions={questions}
        draw={(q) => (
          <QuestionField
            key={q.key}
            prefix="try"
            q={q}
            page={page}
            days={days}
            quantity={input.quantity}
            value={input.answers[q.key] ?? null}
            onChange={(v) => answer(q.key, v)}
            asked={asked.get(q.key)}
            faults={faultsOf(evaluation.faults, q.key).filter(
              (f) => f.code !== "required" || touched.has(q.key),
            )}
            known={
              q.scope === "customer" &&
              input.answers[q.key] === undefined &&
              kept(q.key, q.kind) !== undefined
                ? {
                    words: String(kept(q.key, q.kind)),
                    take: () => answer(q.key, kept(q.key, q.kind)),
                  }
                : undefined
            }
            later={q.later ? { on: input.later.includes(q.key), set: (on) => defer(q.key, on) } : undefined}
          />
        )}
      />
    </div>
  );
}

// sample gives what a known customer might have answered last time.
function sample(kind: string, key: string): unknown {
  const samples: Record<string, unknown> = {
    short_text: key.replaceAll("_", " "),
    mail: "ada@example.org",
    phone: "+49 30 23125 014",
    web_address: "https://example.org",
  };
  return samples[kind];
}

function Planned({ items }: { items: Schemas["PlannedItem"][] }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  if (items.length === 0) return <div className="empty">{t("These answers make no work.")}</div>;
  return (
    <div className="sheet stack">
      <div className="quiet small">
        {t("{{count}} items", { count: items.length })}, {span(items.reduce((n, i) => n + i.minutes, 0))}
      </div>
      {items.map((i) => {
        const due = i.due && local(i.due, session.zone);
        return (
          <div key={i.step}>
            <div className="row">
              <strong className="grow">{i.title}</strong>
              <span className="num small quiet">{span(i.minutes)}</span>
            </div>
            {i.instructions && <div className="small work-instructions">{i.instructions}</div>}
            <Waits item={i} />
            {due && (
              <div className="small num quiet">
                {t("due {{when}}", { when: `${day(due.day, today)} ${due.time}` })}
              </div>
            )}
          </div>
        );
      })}
    </div>
  );
}

function Check({
  draft,
  findings,
  select,
}: {
  draft: Draft;
  findings: Schemas["Finding"][];
  select: (s: Selected) => void;
}) {
  const { t } = useTranslation();
  if (findings.length === 0) return <div className="empty">{t("Nothing is wrong with this draft.")}</div>;
  const place = (f: Schemas["Finding"]): Selected | undefined => {
    if ((f.part === "question" || f.part === "step") && f.key) return { part: f.part, key: f.key };
    if (f.part === "charge") {
      const on = draft.charges?.[Number(f.key) - 1]?.on;
      return on ? { part: "question", key: on } : { part: "price" };
    }
    if (f.part === "value") return { part: "price" };
    if (f.part === "booking") return { part: "booking" };
    if (f.part === "product") return { part: priceKeys.includes(f.key ?? "") ? "price" : "product" };
    return undefined;
  };
  return (
    <ul className="findings">
      {findings.map((f) => (
        <li key={`${f.part}${f.key}${f.text}`} className={f.error ? "notice bad" : "notice attention"}>
          {f.text}{" "}
          {place(f) && (
            <button
              type="button"
              className="linkish"
              onClick={() => {
                const at = place(f);
                if (at) select(at);
              }}
            >
              {t("Show")}
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}

// Along takes products along that are offered with this one, to see what all of
// it costs together.
function Along({ draft, input, setInput }: { draft: Draft; input: Input; setInput: (next: Input) => void }) {
  const { t } = useTranslation();
  const offered = draft.add_ons ?? [];
  const products = useQuery({
    queryKey: ["products"],
    queryFn: () => take(api.GET("/api/desk/products")),
    enabled: offered.length > 0,
  });
  if (offered.length === 0) return null;
  const taken = (product: number) => input.add_ons?.find((a) => a.product === product)?.quantity ?? 0;
  const set = (product: number, quantity: number) => {
    const rest = (input.add_ons ?? []).filter((a) => a.product !== product);
    setInput({ ...input, add_ons: quantity > 0 ? [...rest, { product, quantity }] : rest });
  };
  return (
    <details className="try-along small" open={(input.add_ons?.length ?? 0) > 0}>
      <summary>{t("Take along")}</summary>
      {offered.map((a) => {
        const title = products.data?.find((p) => p.id === a.product)?.title ?? `${a.product}`;
        return (
          <div key={a.product} className="row">
            <span className="grow">{title}</span>
            <Stepper
              small
              what={title}
              value={taken(a.product)}
              least={0}
              most={a.most ?? 1}
              onChange={(n) => set(a.product, n)}
            >
              <span className="num">{taken(a.product)}</span>
            </Stepper>
          </div>
        );
      })}
    </details>
  );
}
