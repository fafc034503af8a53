import { api, type Schemas, take } from "../../shared/api/client";
import { useEvaluation } from "../../shared/useEvaluation";

// What a customer typed of one line.
export type Typed = { quantity: number; answers: Record<string, unknown>; later: string[] };

// With its add-ons by their slugs.
export type Chosen = Typed & { addOns?: Record<string, Typed> };

export const nothing: Typed = { quantity: 1, answers: {}, later: [] };

// taken lists the add-ons that are chosen, in the page's order.
export function taken(page: Schemas["ProductPage"], input: Chosen) {
  return (page.add_ons ?? [])
    .map((a) => a.page.slug)
    .filter((slug) => (input.addOns?.[slug]?.quantity ?? 0) > 0);
}

type Result = {
  // of the product, then of each add-on that is chosen
  evaluations: (Schemas["Evaluation"] | undefined)[];
  slip: Schemas["Slip"];
  ready: boolean;
};

// useChoosing evaluates what is being chosen: the product by itself, or with
// its add-ons as the lines that they become.
export function useChoosing(page: Schemas["ProductPage"], input: Chosen) {
  const slugs = taken(page, input);
  const { addOns: _, ...main } = input;
  const lines: Schemas["BasketLine"][] = [
    { product: page.slug, ...main },
    ...slugs.map((slug) => ({ product: slug, parent: 1, ...(input.addOns?.[slug] ?? nothing) })),
  ];
  const together = (page.add_ons ?? []).length > 0;
  return useEvaluation<typeof lines, Result>(lines, async (body, signal) => {
    const [first] = body;
    if (!together && first) {
      const { product: slug, ...answering } = first;
      const e = await take(
        api.POST("/api/shop/products/{slug}/evaluate", {
          params: { path: { slug } },
          body: answering,
          signal,
        }),
      );
      return { evaluations: [e], slip: e.slip, ready: e.ready };
    }
    const v = await take(api.POST("/api/shop/basket", { body: { lines: body, choosing: true }, signal }));
    return { evaluations: v.lines.map((l) => l.evaluation), slip: v.slip, ready: v.ready };
  });
}
