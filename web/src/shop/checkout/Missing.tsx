import { useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { Problem, type Schemas } from "../../shared/api/client";
import { Trouble } from "../../shared/Trouble";
import type { Entry } from "../keep";

type Props = {
  problem: unknown;
  basket: Entry[];
  view: Schemas["BasketView"] | undefined;
  // has a part of the checkout be seen that stands on another step
  reveal: (field: Element) => void;
};

// What is missing, how it is called, and the way there: to a field of this page, or to
// the page on which a line is changed.
type Row = { key: string; name: string; message: string; field?: () => Element | null; page?: string };

// Missing lists together what the checkout still wants, each with a jump to it.
export function Missing({ problem, basket, view, reveal }: Props) {
  const { t } = useTranslation();
  const box = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new list is shown to who pressed far below it
  useEffect(() => {
    box.current?.scrollIntoView({ block: "start" });
    box.current?.focus({ preventScroll: true });
  }, [problem]);
  if (!(problem instanceof Problem) || problem.errors.length === 0) return <Trouble error={problem} />;
  const fields: Record<string, string> = {
    name: t("Your name"),
    email: t("Mail address"),
    "recipient.name": t("Who is it for?"),
    "recipient.email": t("Their mail address"),
    "recipient.from": t("Tell them on"),
    "recipient.words": t("A few words to them"),
    terms: t("Terms of sale"),
    news: t("Write me news"),
    "buyer.company": t("Name of the business"),
    "buyer.country": t("Its country"),
    "buyer.tax_id": t("Tax id"),
  };
  const ids = (key: string) => key.replace(/^buyer\./, "").replace(".", "-");
  const rows = problem.errors.map((e): Row => {
    const row = { key: e.key, message: e.message };
    if (!e.key.startsWith("lines.")) {
      const field = () => document.getElementById(ids(e.key));
      return { ...row, name: fields[e.key] ?? t("The whole order"), field };
    }
    const [, at, key] = e.key.split(".");
    const page = view?.lines[Number(at)]?.page;
    const q = page?.questions.find((x) => x.key === key);
    const name = page ? `${page.title} · ${q?.wording ?? t("How many?")}` : t("The whole order");
    if (q?.moment !== "paying") return { ...row, name, page: page && changeAt(basket, Number(at)) };
    const field = () =>
      document.querySelector(`[data-line="${at}"] [data-question="${CSS.escape(key ?? "")}"]`);
    return { ...row, name, field };
  });
  const jump = (field: () => Element | null) => {
    const at = field();
    if (!at) return;
    reveal(at);
    requestAnimationFrame(() => {
      at.scrollIntoView({ block: "center" });
      const into = at.matches("input, textarea") ? at : at.querySelector("input, textarea, button");
      if (into instanceof HTMLElement) into.focus({ preventScroll: true });
    });
  };
  return (
    <div className="notice bad missing" role="alert" ref={box} tabIndex={-1}>
      <strong>{t("{{count}} things are still needed:", { count: rows.length })}</strong>
      <ul>
        {rows.map((r) => (
          <li key={r.key}>
            {r.field ? (
              <button type="button" className="linkish" onClick={() => r.field && jump(r.field)}>
                {r.name}
              </button>
            ) : (
              r.name
            )}
            : {r.message} {r.page && <Link to={r.page}>{t("Change")}</Link>}
          </li>
        ))}
      </ul>
    </div>
  );
}

// changeAt is where a line of the basket can be changed; an add-on is changed
// with what it is of.
function changeAt(basket: Entry[], i: number) {
  const entry = basket[i];
  const main = basket.find((e) => e.id === entry?.of) ?? entry;
  return `/p/${main?.product}?line=${main?.id}`;
}
