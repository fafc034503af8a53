import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { useAddress } from "../../shared/useAddress";

const fixed = ["person", "products"];
const usual = ["person", "products", "recipient", "business", "tip", "texts"];

export type Steps = ReturnType<typeof useSteps>;

// useSteps gives the parts of the checkout as the seller laid them out: all of them
// together, or one step after the other, with what can be left out gathered in one. The
// step stands in the address, so that going back goes a step back; not where the checkout is
// only looked at.
export function useSteps(
  arrangement: Schemas["Arrangement"] | undefined,
  parts: Record<string, unknown>,
  preview = false,
) {
  const [params, set] = useAddress();
  const [looked, setLooked] = useState(0);
  const wished = preview ? looked : Math.max((Number(params.get("at")) || 1) - 1, 0);
  const setAt = (to: number) => (preview ? setLooked(to) : set({ at: to > 0 ? String(to + 1) : undefined }));
  const sections = arrangement?.sections ?? usual.map((name) => ({ name, off: false }));
  const shown = sections.filter((s) => !s.off && parts[s.name]).map((s): string => s.name);
  const groups: string[][] = [];
  for (const name of shown) {
    const before = groups.at(-1);
    const together =
      !arrangement?.steps || (!fixed.includes(name) && !fixed.includes(before?.[0] ?? "person"));
    if (before && together) before.push(name);
    else groups.push([name]);
  }
  const at = Math.min(wished, Math.max(groups.length - 1, 0));
  const go = (to: number) => {
    setAt(to);
    window.scrollTo(0, 0);
  };
  return {
    groups,
    at,
    last: at >= groups.length - 1,
    go,
    // reveal has the step be seen on which something stands.
    reveal: (of: Element) => {
      const step = of.closest<HTMLElement>("[data-step]")?.dataset.step;
      if (step !== undefined && Number(step) !== at) setAt(Number(step));
    },
  };
}

// Progress shows the steps, and leads back to those that were seen.
export function Progress({ steps }: { steps: Steps }) {
  const { t } = useTranslation();
  const names: Record<string, string> = {
    person: t("You"),
    products: t("Details"),
    recipient: t("More"),
    business: t("More"),
    tip: t("More"),
    texts: t("More"),
  };
  return (
    <ol className="checkout-steps small">
      {[...steps.groups.map((g) => names[g[0] ?? ""] ?? ""), t("Payment")].map((name, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a step is known by its place
        <li key={i} aria-current={i === steps.at ? "step" : undefined}>
          {i < steps.at ? (
            <button type="button" className="linkish" onClick={() => steps.go(i)}>
              {name}
            </button>
          ) : (
            name
          )}
        </li>
      ))}
    </ol>
  );
}
