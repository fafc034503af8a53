import { useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../api/client";
import { digits } from "../currency";
import { plain, weekdays } from "../format";
import { languages } from "../i18n";
import { useToday } from "../today";
import { DecimalBox, MoneyBox } from "./boxes";
import { useCurrency } from "./currency";
import { useKinds } from "./kinds";
import type { Choice } from "./one_choice/Choices";
import { useSeasons } from "./seasons";

type Condition = Schemas["Condition"];
type Question = Schemas["DraftQuestion"];
type Join = "all" | "any" | "none";
type Props = {
  title: string;
  condition?: Condition;
  questions: Question[];
  // whether facts of the order can be compared too
  facts?: boolean;
  // what holds without a condition
  always?: string;
  change: (c: Condition | undefined) => void;
};

// ConditionEditor builds a condition as nested sentences.
export function ConditionEditor({ title, condition, questions, facts = true, always, change }: Props) {
  const { t } = useTranslation();
  const table = useKinds();
  const able = questions.filter((q) => table.kind(q.kind)?.compares !== "nothing");
  const sentence = useSentence(able);
  return (
    <section className="condition">
      <h3>{title}</h3>
      {condition && <p className="small quiet">{sentence(condition)}</p>}
      {condition ? (
        <Part c={condition} questions={able} facts={facts} change={change} depth={0} />
      ) : (
        <div className="row">
          <span className="quiet">{always ?? t("always")}</span>
          <Button size="small" onClick={() => change(fresh(able))}>
            {t("Add a condition")}
          </Button>
        </div>
      )}
    </section>
  );
}

// useNames gives the words of the operators.
function useNames(): Record<string, string> {
  const { t } = useTranslation();
  return {
    answered: t("is answered"),
    not_answered: t("is not answered"),
    is: t("is"),
    is_not: t("is not"),
    contains: t("contains"),
    at_least: t("is at least"),
    at_most: t("is at most"),
    between: t("is between"),
    includes: t("is one of"),
    includes_none: t("is none of"),
    before: t("is before"),
    after: t("is after"),
  };
}

// useFacts gives the words of what is known of an order besides its answers.
function useFacts(): Record<string, string> {
  const { t } = useTranslation();
  return {
    quantity: t("Quantity"),
    people: t("People"),
    hours: t("Hours"),
    days: t("Days"),
    nights: t("Nights"),
    group: t("The customer's group"),
    season: t("The season of the booking"),
    weekday: t("The weekday of the booking"),
    day: t("The day of the booking"),
    products: t("What is in the basket"),
    categories: t("Categories in the basket"),
    is_gift: t("It is for somebody else"),
    is_business: t("A business orders"),
    language: t("The customer's language"),
  };
}

// useProducts gives the products, and their categories, as choices.
function useProducts(): { products: Choice[]; categories: Choice[] } {
  const list = useQuery({ queryKey: ["products"], queryFn: () => take(api.GET("/api/desk/products")) });
  const categories = [...new Set((list.data ?? []).flatMap((p) => (p.category ? [p.category] : [])))];
  return {
    products: (list.data ?? []).map((p) => ({ code: p.slug, label: p.title })),
    categories: categories.map((c) => ({ code: c, label: c })),
  };
}

// useGroupChoices gives the customer groups as choices.
function useGroupChoices(): Choice[] {
  const groups = useQuery({ queryKey: ["groups"], queryFn: () => take(api.GET("/api/desk/groups")) });
  return (groups.data ?? []).map((g) => ({ code: g.key, label: g.name }));
}

const english = ["sunday", "monday", "tuesday", "wednesday", "thursday", "friday", "saturday"];

// useFactChoices gives what facts that are one of several can be.
function useFactChoices(): (fact?: string) => Choice[] | undefined {
  const { i18n } = useTranslation();
  const groups = useGroupChoices();
  const seasons = useSeasons();
  const { products, categories } = useProducts();
  return (fact) => {
    if (fact === "products") return products;
    if (fact === "categories") return categories;
    if (fact === "language") return Object.entries(languages).map(([code, label]) => ({ code, label }));
    if (fact === "group") return groups;
    if (fact === "season") return seasons.map((s) => ({ code: s, label: s }));
    if (fact === "weekday")
      return weekdays(i18n.language).map((w) => ({ code: english[w.value] ?? "", label: w.label }));
    return undefined;
  };
}

// comparesAs says as what a fact is compared.
const comparesAs = (fact: string) =>
  ({
    day: "day",
    group: "one",
    season: "one",
    weekday: "one",
    language: "one",
    products: "several",
    categories: "several",
    is_gift: "yes_no",
    is_business: "yes_no",
  })[fact] ?? "number";

// useSentence reads a condition out as a sentence.
function useSentence(questions: Question[]) {
  const { t } = useTranslation();
  const names = useNames();
  const facts = useFacts();
  const factChoices = useFactChoices();
  const table = useKinds();
  const currency = useCurrency();
  const within = (inner: Question[], c: Condition): string => say(c, true, inner);
  const value = (c: Condition, among: Question[]): string => {
    const q = among.find((x) => x.key === c.answer);
    const choices = factChoices(c.fact) ?? (q?.settings?.choices as Choice[] | undefined) ?? [];
    const one = (v: unknown): string => {
      if (typeof v === "boolean") return v ? t("yes") : t("no");
      if (typeof v === "number" && moneyOf(table, q)) return plain(v, currency);
      return choices.find((x) => x.code === v)?.label ?? String(v ?? "");
    };
    if (!Array.isArray(c.value)) return one(c.value);
    return c.value.map(one).join(c.op === "between" ? t(" and ") : ", ");
  };
  const say = (c: Condition, nested: boolean, among = questions): string => {
    const join = joinOf(c);
    if (join === undefined) {
      const q = among.find((x) => x.key === c.answer);
      const inner = entriesOf(q);
      const added = inner.find((x) => x.key === c.sum);
      const which = c.entries
        ? ` ${t("(entries where {{condition}})", { condition: within(inner, c.entries) })}`
        : "";
      const of = added ? `${t("the sum of “{{wording}}” in", { wording: added.wording })} ` : "";
      const what = c.fact ? (facts[c.fact] ?? c.fact) : `${of}“${q?.wording ?? c.answer}”${which}`;
      return `${what} ${names[c.op ?? ""] ?? ""} ${value(c, among)}`.trim();
    }
    const parts = (c[join] ?? [])
      .map((p) => say(p, true, among))
      .join(join === "all" ? t(" and ") : t(" or "));
    if (join === "none") return t("not ({{parts}})", { parts });
    return nested ? `(${parts})` : parts;
  };
  return (c: Condition) => t("when {{condition}}", { condition: say(c, false) });
}

function fresh(questions: Question[]): Condition {
  const q = questions[0];
  return q ? { answer: q.key, op: "answered" } : { fact: "quantity", op: "at_least", value: 2 };
}

const joinOf = (c: Condition): Join | undefined =>
  c.all ? "all" : c.any ? "any" : c.none ? "none" : undefined;

// entriesOf gives the questions that each entry of a list answers.
const entriesOf = (q?: Question) => (q?.settings?.questions as Question[] | undefined) ?? [];

type PartProps = {
  c: Condition;
  questions: Question[];
  facts: boolean;
  change: (c: Condition | undefined) => void;
  depth: number;
};

function Part({ c, questions, facts, change, depth }: PartProps) {
  const { t } = useTranslation();
  const join = joinOf(c);
  if (join === undefined) {
    return (
      <div className="row">
        <Comparison c={c} questions={questions} facts={facts} change={change} />
        {depth === 0 && (
          <Button size="small" onClick={() => change({ all: [c, fresh(questions)] })}>
            {t("and …")}
          </Button>
        )}
      </div>
    );
  }
  const parts = c[join] ?? [];
  const set = (next: Condition[], as: Join = join) => {
    const [only] = next;
    if (next.length === 0) change(undefined);
    else if (next.length === 1 && only && depth === 0 && as !== "none") change(only);
    else change({ [as]: next });
  };
  return (
    <div className="condition-group">
      <div className="row">
        <Select
          aria-label={t("How these conditions join")}
          size="small"
          value={join}
          onChange={(as: Join) => set(parts, as)}
          options={[
            { value: "all", label: t("all of these hold") },
            { value: "any", label: t("any of these holds") },
            { value: "none", label: t("none of these holds") },
          ]}
        />
      </div>
      {parts.map((p, i) => (
        <Part
          // biome-ignore lint/suspicious/noArrayIndexKey: a part is known by its place
          key={i}
          c={p}
          questions={questions}
          facts={facts}
          depth={depth + 1}
          change={(next) => set(next ? parts.with(i, next) : parts.toSpliced(i, 1))}
        />
      ))}
      <div className="row">
        <Button size="small" onClick={() => set([...parts, fresh(questions)])}>
          {t("Add a condition")}
        </Button>
        {depth < 4 && (
          <Button size="small" onClick={() => set([...parts, { any: [fresh(questions), fresh(questions)] }])}>
            {t("Add a group")}
          </Button>
        )}
      </div>
    </div>
  );
}

// moneyOf says whether a question's answer is compared with an amount; of one
// that is asked for each unit it is compared how many there are.
const moneyOf = (table: ReturnType<typeof useKinds>, q?: Question) =>
  q?.scope !== "unit" && table.kind(q?.kind)?.money;

// isDay says whether a comparison is with a day.
const isDay = (compares: string, op?: string) =>
  compares === "day" || (compares === "span" && (op === "before" || op === "after"));

function Comparison({ c, questions, facts: withFacts, change }: Omit<PartProps, "depth">) {
  const { t } = useTranslation();
  const today = useToday();
  const table = useKinds();
  const names = useNames();
  const q = questions.find((x) => x.key === c.answer);
  const facts = useFacts();
  const factChoices = useFactChoices();
  const currency = useCurrency();
  const money = moneyOf(table, q) ? currency : undefined;
  const compares = c.fact ? comparesAs(c.fact) : (table.kind(q?.kind)?.compares ?? "text");
  const choices = factChoices(c.fact) ?? (q?.settings?.choices as Choice[] | undefined) ?? [];
  const begin = (key: string): Condition => {
    const among = factChoices(key.slice(1));
    const as = key.startsWith("@") && comparesAs(key.slice(1));
    if (as === "several") return { fact: key.slice(1), op: "includes", value: [] };
    if (as === "yes_no") return { fact: key.slice(1), op: "is", value: true };
    if (key === "@day") return { fact: "day", op: "before", value: today };
    if (key.startsWith("@") && among) return { fact: key.slice(1), op: "is", value: among[0]?.code ?? "" };
    if (key.startsWith("@")) return { fact: key.slice(1), op: "at_least", value: 2 };
    const next = questions.find((x) => x.key === key);
    return next?.kind === "yes_no" ? { answer: key, op: "is", value: true } : { answer: key, op: "answered" };
  };
  const turn = (op: string) => {
    const one = isDay(compares, op)
      ? today
      : compares === "clock"
        ? "12:00"
        : money
          ? 10 ** digits(money)
          : 1;
    const value =
      op === "answered" || op === "not_answered"
        ? undefined
        : compares === "yes_no"
          ? true
          : op === "includes" || op === "includes_none"
            ? []
            : op === "between"
              ? [one, one]
              : compares === "one"
                ? (choices[0]?.code ?? "")
                : compares === "text"
                  ? ""
                  : one;
    change({ ...c, op, value });
  };
  return (
    <>
      <Select
        size="small"
        aria-label={t("Which answer")}
        value={c.fact ? `@${c.fact}` : c.answer}
        onChange={(key) => change(begin(key))}
        options={[
          ...questions.map((x) => ({ value: x.key, label: x.wording })),
          ...(withFacts ? Object.entries(facts).map(([fact, label]) => ({ value: `@${fact}`, label })) : []),
        ]}
      />
      {entriesOf(q).length > 0 && <Entries c={c} inner={entriesOf(q)} change={change} />}
      <Select
        size="small"
        aria-label={t("How it compares")}
        value={c.op}
        onChange={turn}
        options={(table.ops[compares] ?? [])
          .filter((o) => !c.fact || comparesAs(c.fact) === "one" || !o.includes("answered"))
          .map((value) => ({ value, label: names[value] }))}
      />
      <Operand c={c} compares={compares} choices={choices} money={money} change={change} />
      <Button size="small" aria-label={t("Take this condition away")} onClick={() => change(undefined)}>
        ×
      </Button>
    </>
  );
}

// Entries says what of a list is compared: how many entries it has, how many of
// them meet a condition, or what they answer to a number, together.
function Entries({ c, inner, change }: { c: Condition; inner: Question[]; change: (c: Condition) => void }) {
  const { t } = useTranslation();
  const table = useKinds();
  const able = inner.filter((q) => table.kind(q.kind)?.compares !== "nothing");
  const numbers = able.filter((q) => table.kind(q.kind)?.compares === "number");
  return (
    <>
      <Select
        size="small"
        aria-label={t("What of the list")}
        value={c.sum ? `+${c.sum}` : ""}
        onChange={(v) => change({ ...c, sum: v ? v.slice(1) : undefined })}
        options={[
          { value: "", label: t("number of entries") },
          ...numbers.map((q) => ({
            value: `+${q.key}`,
            label: t("sum of {{wording}}", { wording: q.wording }),
          })),
        ]}
      />
      {c.entries ? (
        <span className="condition-entries">
          <span className="quiet small">{t("of entries where")}</span>
          <Part
            c={c.entries}
            questions={able}
            facts={false}
            change={(entries) => change({ ...c, entries })}
            depth={1}
          />
        </span>
      ) : (
        <Button size="small" onClick={() => change({ ...c, entries: fresh(able) })}>
          {t("only entries where …")}
        </Button>
      )}
    </>
  );
}

type OperandProps = {
  c: Condition;
  compares: string;
  choices: Choice[];
  // the currency of an amount that is compared
  money: string | undefined;
  change: (c: Condition) => void;
};

function Operand({ c, compares, choices, money, change }: OperandProps) {
  const { t } = useTranslation();
  const label = t("Compared with");
  const set = (value: unknown) => change({ ...c, value });
  const options = choices.map((x) => ({ value: x.code, label: x.label }));
  if (c.op === "answered" || c.op === "not_answered") return null;
  if (compares === "yes_no") {
    return (
      <Select
        size="small"
        aria-label={label}
        value={c.value as boolean}
        onChange={set}
        options={[
          { value: true, label: t("Yes") },
          { value: false, label: t("No") },
        ]}
      />
    );
  }
  if (c.op === "includes" || c.op === "includes_none") {
    return (
      <Select
        size="small"
        mode="multiple"
        aria-label={label}
        className="condition-several"
        value={c.value as string[]}
        onChange={set}
        options={options}
      />
    );
  }
  if (compares === "one")
    return (
      <Select size="small" aria-label={label} value={c.value as string} onChange={set} options={options} />
    );
  if (c.op === "between") {
    const [from, to] = Array.isArray(c.value) ? c.value : [];
    return (
      <>
        <End
          c={c}
          compares={compares}
          money={money}
          label={t("from")}
          value={from}
          set={(v) => set([v, to])}
        />
        {t(" and ")}
        <End c={c} compares={compares} money={money} label={t("to")} value={to} set={(v) => set([from, v])} />
      </>
    );
  }
  if (compares === "text")
    return (
      <Input
        size="small"
        aria-label={label}
        className="condition-text"
        value={String(c.value ?? "")}
        onChange={(e) => set(e.target.value)}
      />
    );
  return <End c={c} compares={compares} money={money} label={label} value={c.value} set={set} />;
}

type EndProps = {
  c: Condition;
  compares: string;
  money: string | undefined;
  label: string;
  value: unknown;
  set: (value: unknown) => void;
};

// End takes one number, amount, day or time that an answer is compared with.
function End({ c, compares, money, label, value, set }: EndProps) {
  if (isDay(compares, c.op) || compares === "clock") {
    return (
      <input
        type={compares === "clock" ? "time" : "date"}
        className="plain-field"
        aria-label={label}
        value={String(value ?? "")}
        onChange={(e) => e.target.value && set(e.target.value)}
      />
    );
  }
  return (
    <span className="charge-box">
      {money ? (
        <MoneyBox
          id={`condition-${label}`}
          label={label}
          digits={digits(money)}
          prefix={money}
          value={value === undefined ? undefined : Number(value)}
          onChange={(v) => v !== undefined && set(v)}
        />
      ) : (
        <DecimalBox
          id={`condition-${label}`}
          label={label}
          value={value === undefined ? undefined : String(value)}
          onChange={(v) => v !== undefined && set(Number(v))}
        />
      )}
    </span>
  );
}
