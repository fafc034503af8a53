import { useQueryClient } from "@tanstack/react-query";
import { api, take } from "../../shared/api/client";
import type { Saving } from "./useBrief";

// useOrderSaving saves a line's brief at the order's page.
export function useOrderSaving(line: number, link: string): Saving {
  const queries = useQueryClient();
  const queryKey = ["order", link];
  return {
    kept: `ruvo.typed.${link.slice(0, 6)}.${line}`,
    save: async (body) => {
      const path = { link, line };
      const saved = await take(
        api.POST("/api/shop/orders/{link}/lines/{line}/brief", { params: { path }, body }),
      );
      queries.setQueryData(queryKey, saved.page);
      return saved.others;
    },
    look: () => queries.invalidateQueries({ queryKey }),
  };
}

// useGiftSaving saves what its recipient answers.
export function useGiftSaving(line: number, link: string): Saving {
  const queries = useQueryClient();
  const queryKey = ["gift", link];
  return {
    kept: `ruvo.typed.${link.slice(0, 6)}.${line}`,
    save: async (body) => {
      const path = { link, line };
      const saved = await take(
        api.POST("/api/shop/gifts/{link}/lines/{line}/brief", { params: { path }, body }),
      );
      queries.setQueryData(queryKey, saved.gift);
      return saved.others;
    },
    look: () => queries.invalidateQueries({ queryKey }),
  };
}
