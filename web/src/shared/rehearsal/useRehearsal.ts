import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Schemas, take } from "../api/client";
import { rehearsing } from "../home";
import { useChange } from "../useChange";

const key = ["rehearsal"];

// useRehearsal gives what is rehearsed here; nothing in the shop itself.
export function useRehearsal() {
  return useQuery({
    queryKey: key,
    queryFn: () => take(api.GET("/api/shop/rehearsal")),
    enabled: rehearsing,
    refetchInterval: 5_000,
  });
}

// useDay has another day be today. All that is shown is of that day then.
export function useDay() {
  const queries = useQueryClient();
  return useChange({
    send: (day: string) => take(api.PUT("/api/shop/rehearsal", { body: { day } })),
    done: (r: Schemas["Rehearsal"]) => {
      queries.setQueryData(key, r);
      queries.invalidateQueries();
    },
  });
}
