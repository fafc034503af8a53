import { Modal } from "antd";
import type { TFunction } from "i18next";
import { Suspense } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { paints } from "../../shared/palette";
import { kinds } from "../../shared/questions/editors";
import { fields } from "../../shared/questions/fields";
import type { Question } from "../../shared/questions/types";

type Choosable = { kind: string; name?: string; settings?: Record<string, unknown>; sample?: unknown };

const three = [
  { code: "a", label: "Moss", colour: paints.moss, picture: "sky-chart.svg" },
  { code: "b", label: "Wine", colour: paints.wine, picture: "evening.svg" },
];

const empty: Schemas["ProductPage"] = {
  slug: "",
  edition: 0,
  title: "",
  summary: "",
  description: "",
  next: "",
  picture: "",
  currency: "EUR",
  digits: 2,
  most_units: 1,
  questions: [],
};

// What a question can be, and each way in which choices are drawn. The sample
// is how an answer to it looks.
function offers(t: (s: string) => string): { group: string; list: Choosable[] }[] {
  const drawn = (drawn: string) => ({ choices: three, drawn });
  return [
    {
      group: t("Words and numbers"),
      list: [
        { kind: "short_text", sample: "Three sisters" },
        { kind: "long_text", sample: "Ten years, and I would walk that pier again." },
        { kind: "number", settings: { unit: "cm" }, sample: 42 },
        { kind: "count", sample: 2 },
        { kind: "yes_no", sample: true },
        { kind: "amount", sample: 2500 },
      ],
    },
    {
      group: t("Choices"),
      list: [
        { kind: "one_choice", name: t("One choice, a list"), settings: drawn("list"), sample: "a" },
        { kind: "one_choice", name: t("One choice, buttons"), settings: drawn("buttons"), sample: "a" },
        { kind: "one_choice", name: t("One choice, picture cards"), settings: drawn("cards"), sample: "a" },
        {
          kind: "one_choice",
          name: t("One choice, colour swatches"),
          settings: drawn("swatches"),
          sample: "a",
        },
        { kind: "several_choices", settings: drawn("list"), sample: ["a", "b"] },
        {
          kind: "several_choices",
          name: t("Several choices, so many of each"),
          settings: { choices: three, counted: true },
          sample: { a: 2 },
        },
        {
          kind: "colour",
          settings: {
            palette: [
              { name: "Moss", colour: paints.moss },
              { name: "Sand", colour: paints.sand },
            ],
            free: true,
          },
          sample: paints.moss,
        },
      ],
    },
    {
      group: t("When"),
      list: [
        { kind: "date", sample: "2026-11-24" },
        { kind: "date_span", sample: { from: "2026-11-24", to: "2026-11-27" } },
        { kind: "time", sample: "20:30" },
        { kind: "booking" },
      ],
    },
    {
      group: t("Who and where"),
      list: [
        { kind: "mail", sample: "ada@example.org" },
        { kind: "phone", sample: "+47 21 23 45 67" },
        { kind: "web_address", sample: "https://example.org" },
        { kind: "postal_address", sample: { name: "Ada Quill", street: "Harbour Road 3", city: "Lofthus" } },
        { kind: "repeat", settings: { questions: [], entry: t("guest") }, sample: [{}, {}] },
      ],
    },
    {
      group: t("Files and promises"),
      list: [
        { kind: "files" },
        {
          kind: "signature",
          sample: { strokes: [[80, 700, 180, 200, 260, 760, 380, 380, 520, 640, 700, 420, 900, 560]] },
        },
        { kind: "consent", sample: { agreed: true } },
        { kind: "link_value", sample: "spring-fair" },
      ],
    },
    {
      group: t("Only shown"),
      list: [{ kind: "section" }, { kind: "heading" }, { kind: "note" }, { kind: "picture" }],
    },
  ];
}

// Picker shows each kind of question, and each way of drawing it, as a small
// example, and adds the one that is chosen.
export function Picker({ choose }: { choose: (kind?: string, settings?: Record<string, unknown>) => void }) {
  const { t } = useTranslation();
  return (
    <Modal open width={920} title={t("What is asked?")} footer={null} onCancel={() => choose()}>
      {offers((s) => t(s)).map((o) => (
        <section key={o.group} className="picker-group">
          <h3>{o.group}</h3>
          <div className="picker">
            {o.list.map((c) => {
              const name = c.name ?? t(kinds[c.kind]?.name ?? c.kind);
              return (
                <button
                  key={name}
                  type="button"
                  className="picker-kind"
                  onClick={() => choose(c.kind, beginning(c, t))}
                >
                  <span className="picker-name">{name}</span>
                  <span className="picker-example" aria-hidden="true" inert>
                    <Suspense>
                      <Example c={c} />
                    </Suspense>
                  </span>
                </button>
              );
            })}
          </div>
        </section>
      ))}
    </Modal>
  );
}

// beginning keeps of the example only the way of drawing.
function beginning(c: Choosable, t: TFunction): Record<string, unknown> | undefined {
  const begin = kinds[c.kind]?.begin?.(t);
  if (c.settings?.counted) return { ...begin, counted: true };
  if (c.settings?.drawn) return { ...begin, drawn: c.settings.drawn };
  return begin;
}

function Example({ c }: { c: Choosable }) {
  const { t } = useTranslation();
  const Field = fields[c.kind];
  if (!Field) return null;
  if (c.kind === "booking") return <span className="picker-words num">19:00 · 20:30 · 22:00</span>;
  const q: Question = {
    key: "example",
    kind: c.kind,
    moment: "choosing",
    wording: t("A title"),
    required: true,
    later: false,
    settings: c.kind === "picture" ? { picture: "sky-chart.svg" } : (c.settings ?? {}),
    hint: "",
    choice_hints: {},
  };
  return (
    <Field
      id={`example-${c.kind}-${String(c.settings?.drawn ?? "")}`}
      q={q}
      page={empty}
      value={c.sample ?? null}
      onChange={() => {}}
      faults={[]}
      asked={{
        key: "example",
        answered: false,
        later: false,
        text: c.kind === "note" ? `<p>${t("Words between the questions.")}</p>` : undefined,
      }}
    />
  );
}
