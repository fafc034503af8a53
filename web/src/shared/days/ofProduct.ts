import { useMemo } from "react";
import { api, type Schemas, take } from "../api/client";
import { type DaysSource, picks } from "./source";

// useDaysOf asks what can be booked of a product that is on sale, for the answers that
// decide about it.
export function useDaysOf(
  page: Schemas["ProductPage"],
  input: { answers: Record<string, unknown>; quantity: number },
) {
  const chosen = JSON.stringify(picks(page, input.answers));
  return useMemo<DaysSource>(() => {
    const answers = JSON.parse(chosen) as Record<string, unknown>;
    return {
      key: ["days", page.slug, chosen, input.quantity],
      ask: (asked) =>
        take(
          api.POST("/api/shop/products/{slug}/days", {
            params: { path: { slug: page.slug } },
            body: { ...asked, answers, quantity: input.quantity },
          }),
        ),
      wait: (w) =>
        take(
          api.POST("/api/shop/products/{slug}/waiting", {
            params: { path: { slug: page.slug } },
            body: { ...w, answers },
          }),
        ),
    };
  }, [page.slug, chosen, input.quantity]);
}
