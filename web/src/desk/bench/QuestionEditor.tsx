import { Button, Checkbox, Input, Popconfirm, Select } from "antd";
import { useContext, useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { digits as digitsOf } from "../../shared/currency";
import { Labelled } from "../../shared/Labelled";
import { ConditionEditor } from "../../shared/questions/ConditionEditor";
import { kinds } from "../../shared/questions/editors";
import { shown } from "../../shared/questions/fields";
import { useKinds } from "../../shared/questions/kinds";
import { QuestionField } from "../../shared/questions/QuestionField";
import { useMeasures } from "./ChargeEditor";
import { Charges } from "./Charges";
import { type Draft, dropQuestion, keyOf, moments, type Question, rekey, type Selected } from "./draft";
import { Findings } from "./Findings";
import { KeyField } from "./KeyField";
import { TrialContext } from "./trial";

type Props = {
  draft: Draft;
  change: (draft: Draft) => void;
  at: string;
  select: (s: Selected) => void;
  findings: Schemas["Finding"][];
  // keys that were published
  used: string[];
  // questions that sheets bring in, which conditions can read
  linked?: Question[];
  // what reads what, as the server last said
  ties?: Schemas["Ties"];
  // a sheet measures no order line
  ofSheet?: boolean;
};

export function QuestionEditor({
  draft,
  change,
  at,
  select,
  findings,
  used,
  linked = [],
  ties = {},
  ofSheet,
}: Props) {
  const { t } = useTranslation();
  const q = draft.questions?.find((x) => x.key === at);
  const [key, setKey] = useState(at);
  const table = useKinds();
  if (!q) return <div className="empty">{t("Select a question or a step.")}</div>;
  const set = (part: Partial<Question>) =>
    change({ ...draft, questions: draft.questions?.map((x) => (x.key === at ? { ...x, ...part } : x)) });
  const kind = kinds[q.kind];
  const Editor = kind?.Editor;
  const others = [...(draft.questions ?? []), ...linked].map((x) => x.key).filter((k) => k !== at);
  const digits = digitsOf(draft.currency);
  const badKey = !table.keyed(key) || others.includes(key) || table.reserved.includes(key);
  // The server knows all that reads a key.
  const rename = async () => {
    if (badKey || key === at) return;
    const renamed = await take(
      api.POST("/api/desk/products/{id}/rename", {
        params: { path: { id: 0 } },
        body: { draft, from: at, to: key },
      }),
    );
    change(renamed);
    select({ part: "question", key });
  };
  // The key follows the wording until something uses it.
  const follows =
    !used.includes(at) &&
    (at === keyOf(q.wording, [...others, ...table.reserved]) ||
      at === keyOf(t(kind?.name ?? ""), [...others, ...table.reserved]));
  const word = (wording: string) => {
    const worded = {
      ...draft,
      questions: draft.questions?.map((x) => (x.key === at ? { ...x, wording } : x)),
    };
    const next = keyOf(wording, [...others, ...table.reserved]);
    if (!follows || next === at || (ties[at]?.by ?? []).length > 0) return change(worded);
    change(rekey(worded, at, next));
    setKey(next);
    select({ part: "question", key: next });
  };
  const duplicate = () => {
    const copy = keyOf(
      at,
      (draft.questions ?? []).map((x) => x.key),
    );
    const i = draft.questions?.findIndex((x) => x.key === at) ?? 0;
    change({ ...draft, questions: draft.questions?.toSpliced(i + 1, 0, { ...q, key: copy }) });
    select({ part: "question", key: copy });
  };
  return (
    <>
      <div className="row">
        <h2>{q.wording || t("Note")}</h2>
        <span className="quiet small">{t(kind?.name ?? q.kind)}</span>
        <span className="grow" />
        <Button size="small" onClick={duplicate}>
          {t("Duplicate")}
        </Button>
        <TakeAway
          needed={ties[at]?.by ?? []}
          take={() => {
            change(dropQuestion(draft, at));
            select({ part: "product" });
          }}
        />
      </div>
      <Findings findings={findings.filter((f) => f.part === "question" && f.key === at)} />
      {q.kind !== "note" && (
        <Labelled id="wording" wording={t("What people read")}>
          <Input id="wording" value={q.wording} onChange={(e) => word(e.target.value)} />
        </Labelled>
      )}
      {!shown.has(q.kind) && (
        <Labelled id="help" wording={t("Help under it")}>
          <Input
            id="help"
            value={q.help ?? ""}
            onChange={(e) => set({ help: e.target.value || undefined })}
          />
        </Labelled>
      )}
      <div className="pair">
        <KeyField id="key" value={key} bad={badKey} set={setKey} done={rename} />
        <Labelled id="moment" wording={t("Asked")}>
          <Select
            id="moment"
            value={q.moment}
            onChange={(moment) =>
              set({
                moment,
                section: undefined,
                later: moment === "briefing" || moment === "desk" ? undefined : q.later,
              })
            }
            options={moments.map((value) => ({
              value,
              label: {
                choosing: t("while choosing"),
                paying: t("at checkout"),
                briefing: t("after paying"),
                desk: t("only at the desk"),
              }[value],
            }))}
          />
        </Labelled>
      </div>
      {Editor && (
        <Editor
          key={q.kind}
          settings={q.settings ?? {}}
          onChange={(settings) => set({ settings: tidy(settings) })}
          digits={digits}
          at={at}
          questions={[...(draft.questions ?? []), ...linked]}
        />
      )}
      {!shown.has(q.kind) && (
        <div className="row question">
          <Checkbox
            checked={q.required ?? false}
            onChange={(e) =>
              set({ required: e.target.checked || undefined, later: e.target.checked ? q.later : undefined })
            }
          >
            {t("Must be answered")}
          </Checkbox>
          {(q.moment === "choosing" || q.moment === "paying") && q.kind !== "booking" && (
            <Checkbox
              checked={q.later ?? false}
              onChange={(e) => set({ later: e.target.checked || undefined })}
            >
              {t("may be left until after paying")}
            </Checkbox>
          )}
          {q.moment === "briefing" && q.kind !== "booking" && q.kind !== "amount" && (
            <Checkbox
              checked={q.recipient ?? false}
              onChange={(e) => set({ recipient: e.target.checked || undefined })}
            >
              {t("answered by whoever it is for, when somebody else ordered")}
            </Checkbox>
          )}
        </div>
      )}
      {!ofSheet &&
        table.kind(q.kind)?.compares === "number" &&
        (q.moment === "choosing" || q.moment === "paying") && <CountsAs q={q} set={set} />}
      <Belonging q={q} draft={draft} set={set} />
      {q.moment === "desk" && !shown.has(q.kind) && <Always q={q} set={set} />}
      <ConditionEditor
        title={t("Asked only when")}
        condition={q.when}
        questions={[...(draft.questions ?? []), ...linked].filter(
          (x) => x.key !== at && moments.indexOf(x.moment) <= moments.indexOf(q.moment),
        )}
        change={(when) => set({ when })}
      />
      {ties[at] && <Ties of={ties[at]} />}
      {!shown.has(q.kind) && (q.moment === "choosing" || q.moment === "paying") && (
        <Charges draft={draft} change={change} q={q} linked={linked} digits={digits} findings={findings} />
      )}
    </>
  );
}

type AlwaysProps = { q: Question; set: (part: Partial<Question>) => void };

// Always asks what is answered for every order: a fact of the product that only the desk
// sees, such as who supplies it or where it lies.
function Always({ q, set }: AlwaysProps) {
  const { t } = useTranslation();
  const page = useContext(TrialContext)?.page;
  const view = page?.questions.find((x) => x.key === q.key);
  if (!page || !view) return null;
  return (
    <fieldset className="sheet" aria-label={t("The same for every order")}>
      <strong>{t("The same for every order")}</strong>
      <p className="small quiet">
        {t(
          "Only you see it. Steps, instructions and worksheets read it like an answer; an order can have another one.",
        )}
      </p>
      <QuestionField
        prefix="always"
        q={view}
        page={page}
        quantity={1}
        value={q.always ?? null}
        onChange={(always) => set({ always: always ?? undefined })}
        faults={[]}
      />
    </fieldset>
  );
}

// TakeAway takes a question away, and asks first where something needs it.
function TakeAway({ needed, take }: { needed: string[]; take: () => void }) {
  const { t } = useTranslation();
  const button = (
    <Button size="small" danger onClick={needed.length === 0 ? take : undefined}>
      {t("Take away")}
    </Button>
  );
  if (needed.length === 0) return button;
  return (
    <Popconfirm
      title={t("Take it away all the same?")}
      description={t("Needed by: {{names}}", { names: needed.join(", ") })}
      okText={t("Take away")}
      cancelText={t("Leave it as it was")}
      onConfirm={take}
    >
      {button}
    </Popconfirm>
  );
}

// Ties says what a question depends on, and what depends on it.
function Ties({ of: { on = [], by = [] } }: { of: Schemas["Tie"] }) {
  const { t } = useTranslation();
  if (on.length + by.length === 0) return null;
  return (
    <div className="small quiet ties">
      {on.length > 0 && <div>{t("Depends on: {{names}}", { names: on.join(", ") })}</div>}
      {by.length > 0 && <div>{t("Needed by: {{names}}", { names: by.join(", ") })}</div>}
    </div>
  );
}

// CountsAs says whether the answered number is how many people, hours, days or
// nights the line has.
function CountsAs({ q, set }: { q: Question; set: (part: Partial<Question>) => void }) {
  const { t } = useTranslation();
  const names = useMeasures();
  if (q.kind === "amount") return null;
  return (
    <Labelled
      id="counts_as"
      wording={t("Its number counts as")}
      help={t("Prices and charges can be for each of them.")}
    >
      <Select
        id="counts_as"
        value={q.counts_as ?? ""}
        onChange={(v) => set({ counts_as: v || undefined })}
        options={[
          { value: "", label: t("nothing else") },
          ...(["person", "hour", "day", "night"] as const).map((m) => ({
            value: m,
            label: t("each {{measure}}", { measure: names[m] }),
          })),
        ]}
      />
    </Labelled>
  );
}

const places = ["receipt", "order_page", "docket", "worksheet", "calendar"] as const;
const usual = ["order_page", "docket", "worksheet"];

type BelongingProps = { q: Question; draft: Draft; set: (part: Partial<Question>) => void };

// Belonging says whom the answer belongs to, where it appears and where the
// question stands.
function Belonging({ q, draft, set }: BelongingProps) {
  const { t } = useTranslation();
  const table = useKinds();
  const asks = !shown.has(q.kind);
  const sections = (draft.questions ?? []).filter((x) => x.kind === "section" && x.moment === q.moment);
  const names: Record<string, string> = {
    receipt: t("receipt"),
    order_page: t("order page"),
    docket: t("docket"),
    worksheet: t("worksheet"),
    calendar: t("calendar"),
  };
  return (
    <>
      <div className="pair">
        {asks && q.kind !== "booking" && (
          <Labelled id="scope" wording={t("Asked once for")}>
            <Select
              id="scope"
              value={q.scope ?? ""}
              onChange={(scope) => set({ scope: scope || undefined })}
              options={[
                { value: "", label: t("the order line") },
                ...(table.kind(q.kind)?.repeats ? [{ value: "unit" as const, label: t("each unit") }] : []),
                ...(q.moment === "choosing"
                  ? []
                  : [{ value: "order" as const, label: t("the whole order") }]),
                { value: "customer", label: t("the customer, kept for next time") },
              ]}
            />
          </Labelled>
        )}
        {sections.length > 0 && q.kind !== "section" && (
          <Labelled id="section" wording={t("Stands in")}>
            <Select
              id="section"
              value={q.section ?? ""}
              onChange={(section) => set({ section: section || undefined })}
              options={[
                { value: "", label: t("no section") },
                ...sections.map((s) => ({ value: s.key, label: s.wording })),
              ]}
            />
          </Labelled>
        )}
        {asks && (
          <Labelled id="shown" wording={t("Its answer appears on")}>
            <Select
              id="shown"
              mode="multiple"
              value={q.shown ?? usual}
              onChange={(v: string[]) => {
                const sorted = places.filter((x) => v.includes(x));
                set({ shown: sorted.join() === usual.join() || sorted.length === 0 ? undefined : sorted });
              }}
              options={places.map((value) => ({ value, label: names[value] }))}
            />
          </Labelled>
        )}
      </div>
      <div className="row question">
        {asks && (
          <Checkbox checked={q.half ?? false} onChange={(e) => set({ half: e.target.checked || undefined })}>
            {t("beside its neighbour")}
          </Checkbox>
        )}
        <Checkbox checked={q.off ?? false} onChange={(e) => set({ off: e.target.checked || undefined })}>
          {t("switched off")}
        </Checkbox>
      </div>
    </>
  );
}

// tidy leaves out settings that were cleared.
function tidy(settings: Record<string, unknown>) {
  return Object.fromEntries(Object.entries(settings).filter(([, v]) => v !== undefined && v !== ""));
}
