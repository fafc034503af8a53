import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Checkbox, Segmented, Select } from "antd";
import { useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { lost } from "../../shared/lost";
import { Sortable, SortableRow } from "../../shared/Sortable";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { MemoryContext } from "../../shared/useKept";
import { useBasketView } from "../../shop/Basket";
import { About } from "../../shop/checkout/About";
import { basketKey, type Entry, ordered, useBasket } from "../../shop/keep";
import { ProductTabs } from "../Tabs";
import { Agreements } from "./Agreements";

type Arrangement = Schemas["Arrangement"];
type Section = NonNullable<Arrangement["sections"]>[number];

const queryKey = ["arrangement"];
const fixed = ["person", "products", "texts"];

// Arrange lays the checkout out: in which order it asks, what it leaves out, and whether
// it stands on one page or comes step by step. Beside it stands the checkout as it is.
export function Arrange() {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const kept = useQuery({ queryKey, queryFn: () => take(api.GET("/api/desk/checkout")) });
  const put = useChange({
    send: (body: Arrangement) => take(api.PUT("/api/desk/checkout", { body })),
    done: (a) => {
      queries.setQueryData(queryKey, a);
      setKeptTimes((n) => n + 1);
    },
  });
  const [keptTimes, setKeptTimes] = useState(0);
  if (lost(kept)) return <Trouble error={kept.error} again={() => kept.refetch()} />;
  const a = kept.data;
  if (!a) return null;
  const sections = a.sections ?? [];
  const set = (part: Partial<Arrangement>) => {
    const next = { ...a, ...part };
    queries.setQueryData(queryKey, next); // it is seen at once, and kept then
    put.send(next);
  };
  const move = (from: number, to: number) => {
    const next = [...sections];
    const [one] = next.splice(from, 1);
    if (one) next.splice(to, 0, one);
    set({ sections: next });
  };
  return (
    <main className="desk-page stack">
      <h1>{t("Checkout")}</h1>
      <ProductTabs />
      <Trouble error={put.problem} again={() => kept.refetch()} />
      <div className="arrange">
        <div className="stack">
          <section className="sheet stack">
            <Segmented
              value={a.steps ?? false}
              onChange={(steps) => set({ steps })}
              options={[
                { value: false, label: t("on one page") },
                { value: true, label: t("step by step") },
              ]}
            />
            <Sections sections={sections} move={move} set={(next) => set({ sections: next })} />
            <p className="small quiet" role="status">
              {put.busy ? t("keeping …") : t("kept; customers see it so from now on")}
            </p>
          </section>
          <Questions arrange={(questions) => set({ questions })} />
          <Agreements changed={() => setKeptTimes((n) => n + 1)} />
        </div>
        <Preview key={keptTimes} />
      </div>
    </main>
  );
}

type SectionsProps = {
  sections: Section[];
  move: (from: number, to: number) => void;
  set: (sections: Section[]) => void;
};

function Sections({ sections, move, set }: SectionsProps) {
  const { t } = useTranslation();
  const names: Record<Section["name"], string> = {
    person: t("Name and mail address"),
    products: t("What the products ask while paying"),
    recipient: t("It is for somebody else"),
    business: t("I order for a business"),
    tip: t("What customers like to give on top"),
    texts: t("What customers agree to"),
    coupon: t("Coupons and vouchers, beside the total"),
  };
  return (
    <Sortable ids={sections.map((s) => s.name)} move={move} name={(id) => names[id as Section["name"]]}>
      {sections.map((s) => (
        <SortableRow key={s.name} id={s.name} name={names[s.name]}>
          <Checkbox
            checked={!s.off}
            disabled={fixed.includes(s.name)}
            onChange={(e) =>
              set(sections.map((x) => (x.name === s.name ? { ...x, off: !e.target.checked } : x)))
            }
          >
            {names[s.name]}
          </Checkbox>
        </SortableRow>
      ))}
    </Sortable>
  );
}

// Questions puts what the products ask while paying in another order.
function Questions({ arrange }: { arrange: (keys: string[]) => void }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const queryKey = ["checkout-questions"];
  const asked = useQuery({ queryKey, queryFn: () => take(api.GET("/api/desk/checkout/questions")) });
  const list = asked.data ?? [];
  const move = (from: number, to: number) => {
    const next = [...list];
    const [one] = next.splice(from, 1);
    if (one) next.splice(to, 0, one);
    queries.setQueryData(queryKey, next);
    arrange(next.map((q) => q.key));
  };
  if (lost(asked)) return <Trouble error={asked.error} again={() => asked.refetch()} />;
  if (list.length === 0) return null;
  const wording = (key: string) => list.find((q) => q.key === key)?.wording ?? key;
  return (
    <section className="sheet stack" aria-labelledby="asked-while-paying">
      <h2 id="asked-while-paying">{t("What the products ask while paying")}</h2>
      <p className="small quiet">{t("Each product asks its own of them, in this order.")}</p>
      <Sortable ids={list.map((q) => q.key)} move={move} name={wording}>
        {list.map((q) => (
          <SortableRow key={q.key} id={q.key} name={q.wording}>
            <div>
              {q.wording} <span className="small quiet">{q.products.join(", ")}</span>
            </div>
          </SortableRow>
        ))}
      </Sortable>
    </section>
  );
}

// Preview is the checkout at the size of a phone, with a product that is chosen here. What
// is typed there stays there.
function Preview() {
  const { t } = useTranslation();
  const products = useQuery({ queryKey: ["products"], queryFn: () => take(api.GET("/api/desk/products")) });
  const onSale = (products.data ?? []).filter((p) => p.edition > 0);
  const [slug, setSlug] = useState<string>();
  const chosen = slug ?? onSale[0]?.slug;
  const memory = useMemo(() => {
    const entries: Entry[] = chosen ? [{ id: "preview", product: chosen, quantity: 1, answers: {} }] : [];
    return new Map<string, unknown>([[basketKey, entries]]);
  }, [chosen]);
  return (
    <section className="stack">
      <Select
        aria-label={t("Seen with")}
        value={chosen}
        onChange={setSlug}
        options={onSale.map((p) => ({ value: p.slug, label: p.title }))}
      />
      {/* biome-ignore lint/a11y/noStaticElementInteractions: it only keeps links from leading away */}
      <div
        className="phone"
        onClickCapture={(e) => {
          if (e.target instanceof Element && e.target.closest("a")) e.preventDefault();
        }}
        onKeyDown={() => undefined}
      >
        <MemoryContext value={memory}>
          <Seen key={chosen} />
        </MemoryContext>
      </div>
    </section>
  );
}

function Seen() {
  const [kept] = useBasket();
  const view = useBasketView(ordered(kept));
  return <About name="" view={view.result} stale={view.stale} preview />;
}
