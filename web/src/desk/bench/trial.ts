import { createContext, useContext, useMemo, useRef } from "react";
import { api, type Schemas, take } from "../../shared/api/client";
import { type DaysSource, picks } from "../../shared/days/source";
import type { Draft } from "./draft";
import type { Tried } from "./Live";

type Trial = Partial<Schemas["TrialResult"]> | undefined;

// TrialContext holds what the server last said of the draft, or of a sheet, for
// the editors that show it: sentences, results of formulas, names.
export const TrialContext = createContext<Trial>(undefined);

export const useTrial = () => useContext(TrialContext);

// DaysContext asks what could be booked of the draft.
export const DaysContext = createContext<DaysSource | undefined>(undefined);

// useDraftDays asks what could be booked of a draft.
export function useDraftDays(
  id: number,
  page: Schemas["ProductPage"] | undefined,
  draft: Draft,
  input: Tried,
) {
  const newest = useRef({ draft, input });
  newest.current = { draft, input };
  const key = JSON.stringify([
    id,
    draft.booking,
    draft.values,
    page ? picks(page, input.answers) : {},
    input.quantity,
    input.day,
  ]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what it hangs on is in the key
  return useMemo<DaysSource>(
    () => ({
      key: ["draft-days", key],
      ask: (asked) => {
        const { draft, input } = newest.current;
        const trial = {
          draft,
          quantity: input.quantity,
          answers: input.answers,
          day: input.day,
          group: input.group,
          gift: input.gift,
          business: input.business,
        };
        return take(
          api.POST("/api/desk/products/{id}/days", {
            params: { path: { id } },
            body: { trial, asked: { ...asked, answers: input.answers, quantity: input.quantity } },
          }),
        );
      },
    }),
    [key],
  );
}
