import { useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate, useSearchParams } from "react-router";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { useDaysOf } from "../../shared/days/ofProduct";
import { Labelled } from "../../shared/Labelled";
import { begin } from "../../shared/questions/begin";
import { CurrencyContext } from "../../shared/questions/currency";
import { loadFields } from "../../shared/questions/fields";
import { QuestionField } from "../../shared/questions/QuestionField";
import { QuestionList } from "../../shared/questions/QuestionList";
import { faultsOf } from "../../shared/questions/types";
import { Stepper } from "../../shared/Stepper";
import { Slip } from "../../shared/slip/Slip";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useEvaluation } from "../../shared/useEvaluation";

// NewOrder takes down an order for somebody who calls or stands at the counter: what
// they want is asked, checked and priced as in the shop.
export function NewOrder() {
  const { t } = useTranslation();
  const [params, setParams] = useSearchParams();
  const id = Number(params.get("product") ?? 0);
  const products = useQuery({ queryKey: ["products"], queryFn: () => take(api.GET("/api/desk/products")) });
  const onSale = (products.data ?? []).filter((p) => p.edition > 0);
  const slug = onSale.find((p) => p.id === id)?.slug;
  const page = useQuery({
    queryKey: ["product", slug],
    enabled: slug !== undefined,
    queryFn: async () => {
      const page = await take(
        api.GET("/api/shop/products/{slug}", { params: { path: { slug: slug ?? "" } } }),
      );
      await loadFields(page.questions);
      return page;
    },
  });
  return (
    <main className="desk-page new-order">
      <h1>{t("New order")}</h1>
      <Labelled id="new-product" wording={t("What is ordered")}>
        <Select
          id="new-product"
          showSearch={{ optionFilterProp: "label" }}
          placeholder={t("Choose a product")}
          value={id || undefined}
          onChange={(v) => setParams({ product: String(v) }, { replace: true })}
          options={onSale.map((p) => ({ value: p.id, label: p.title }))}
        />
      </Labelled>
      <Trouble error={products.error ?? page.error} />
      {page.data && page.data.slug === slug && (
        <CurrencyContext value={page.data.currency}>
          <Taking key={slug} page={page.data} start={params.get("start")} end={params.get("end")} />
        </CurrencyContext>
      )}
    </main>
  );
}

type TakingProps = { page: Schemas["ProductPage"]; start: string | null; end: string | null };

// Taking asks for all that is asked before payment, and for whom it is.
function Taking({ page, start, end }: TakingProps) {
  const { t, i18n } = useTranslation();
  const go = useNavigate();
  const [input, setInput] = useState(() => {
    const answers: Record<string, unknown> = begin(page.questions);
    const booked = page.questions.find((q) => q.kind === "booking");
    if (booked && start && end) answers[booked.key] = { start, end, people: page.people?.least ?? 1 };
    return { quantity: 1, answers, later: [] as string[] };
  });
  const [who, setWho] = useState({ name: "", email: "", language: i18n.language });
  const [paid, setPaid] = useState("");
  const days = useDaysOf(page, input);
  const evaluation = useEvaluation<typeof input, Schemas["Evaluation"]>(input, (body, signal) =>
    take(
      api.POST("/api/shop/products/{slug}/evaluate", { params: { path: { slug: page.slug } }, body, signal }),
    ),
  );
  const place = useChange({
    once: true,
    send: () =>
      take(
        api.POST("/api/desk/orders", {
          body: {
            ...who,
            line: { product: page.slug, ...input },
            total: evaluation.result?.slip.total,
            paid: (paid || undefined) as Schemas["OrderByHand"]["paid"],
          },
        }),
      ),
    refreshes: ["orders", "calendar", "today", "products"],
    done: (o) => go(`/orders/${o.line}`),
  });
  const result = evaluation.result;
  const asked = new Map(result?.asked.map((a) => [a.key, a]));
  const questions = page.questions.filter(
    (q) => (q.moment === "choosing" || q.moment === "paying") && asked.has(q.key),
  );
  const told = place.problem instanceof Problem ? place.problem : undefined;
  const wrong = [
    ...(told?.errors ?? [])
      .filter((e) => e.key.startsWith("lines.0."))
      .map((e) => ({ ...e, key: e.key.slice("lines.0.".length) })),
    ...(result?.faults ?? []).filter((f) => f.code !== "required"),
  ];
  const set = (key: string, value: unknown) =>
    setInput((old) => ({ ...old, answers: { ...old.answers, [key]: value } }));
  const shown = new Set(questions.map((q) => q.key));
  const elsewhere =
    told?.errors.filter(
      (e) => !shown.has(e.key.split(".")[2] ?? "") && !(e.key in who) && e.key !== "paid",
    ) ?? [];
  return (
    <div className="new-order-parts">
      <div>
        {page.most_units > 1 && (
          <Stepper
            value={input.quantity}
            least={1}
            most={page.most_units}
            onChange={(quantity) => setInput((old) => ({ ...old, quantity }))}
          >
            <strong className="num">{input.quantity}</strong>
          </Stepper>
        )}
        <QuestionList
          questions={questions}
          draw={(q) => (
            <QuestionField
              key={q.key}
              q={q}
              page={page}
              quantity={input.quantity}
              value={input.answers[q.key] ?? null}
              onChange={(v) => set(q.key, v)}
              days={days}
              asked={asked.get(q.key)}
              faults={faultsOf(wrong, q.key)}
              later={
                q.later
                  ? {
                      on: input.later.includes(q.key),
                      set: (on) =>
                        setInput((old) => ({
                          ...old,
                          later: on ? [...old.later, q.key] : old.later.filter((k) => k !== q.key),
                        })),
                    }
                  : undefined
              }
            />
          )}
        />
      </div>
      <div className="sheet new-order-side">
        {result && <Slip slip={result.slip} stale={evaluation.stale} />}
        {evaluation.error !== undefined && <Trouble error={evaluation.error} again={evaluation.again} />}
        <Labelled id="new-name" wording={t("For whom")} fault={told?.of("name")}>
          <Input
            id="new-name"
            maxLength={200}
            value={who.name}
            onChange={(e) => setWho({ ...who, name: e.target.value })}
          />
        </Labelled>
        <Labelled id="new-email" wording={t("Mail address")} fault={told?.of("email")}>
          <Input
            id="new-email"
            type="email"
            maxLength={200}
            value={who.email}
            onChange={(e) => setWho({ ...who, email: e.target.value })}
          />
        </Labelled>
        <Labelled id="new-language" wording={t("Language of the mails")}>
          <Select
            id="new-language"
            value={who.language}
            onChange={(language) => setWho({ ...who, language })}
            options={[
              { value: "en", label: "English" },
              { value: "de", label: "Deutsch" },
            ]}
          />
        </Labelled>
        <Labelled
          id="new-paid"
          wording={t("What is due now")}
          help={t("What stays open is paid on the order page, whose address the mail has.")}
          fault={told?.of("paid")}
        >
          <Select
            id="new-paid"
            value={paid}
            onChange={setPaid}
            options={[
              { value: "", label: t("stays open") },
              { value: "cash", label: t("was paid in cash") },
              { value: "transfer", label: t("was transferred") },
              { value: "hand", label: t("was paid otherwise") },
            ]}
          />
        </Labelled>
        {place.problem !== undefined && (told === undefined || told.errors.length === 0) && (
          <Trouble error={place.problem} />
        )}
        {elsewhere.map((e) => (
          <div key={e.key} className="notice attention" role="alert">
            {e.message}
          </div>
        ))}
        <Button type="primary" loading={place.busy} onClick={() => place.send()}>
          {t("Place the order")}
        </Button>
      </div>
    </div>
  );
}
