import { useQuery, useQueryClient } from "@tanstack/react-query";
import i18next from "i18next";
import { useEffect } from "react";
import { api, type Schemas, take } from "../../shared/api/client";
import { home } from "../../shared/home";
import { useChange } from "../../shared/useChange";

type Statement = Schemas["StatementView"];

// useReading sends a bank statement to be read.
export function useReading(done: (s: Statement) => void) {
  return useChange({
    once: true,
    send: (file: File) => {
      const call = fetch(`${home}/api/desk/statements?${new URLSearchParams({ name: file.name })}`, {
        method: "POST",
        headers: { "Content-Type": "application/octet-stream", "Accept-Language": i18next.language },
        body: file,
      }).then(async (response) => {
        const body = await response.json().catch(() => undefined);
        return response.ok ? { data: body as Statement, response } : { error: body, response };
      });
      return take(call);
    },
    refreshes: ["transfers"],
    done,
  });
}

// How often it is asked how far a statement is, in ms.
const often = 500;

// useStatement shows what became of a statement's rows, anew while they are
// looked at.
export function useStatement(id: number, outcome: Schemas["TransferOutcome"] | undefined, after?: number) {
  const queries = useQueryClient();
  const page = useQuery({
    queryKey: ["statement", id, outcome, after],
    queryFn: () =>
      take(api.GET("/api/desk/statements/{id}", { params: { path: { id }, query: { outcome, after } } })),
    placeholderData: (old) => old,
    refetchInterval: (query) => {
      const s = query.state.data?.statement;
      return s && s.done < s.rows ? often : false;
    },
  });
  const s = page.data?.statement;
  const done = s !== undefined && s.done >= s.rows;
  useEffect(() => {
    if (!done) return;
    for (const key of ["transfers", "money", "orders", "docket", "today"])
      queries.invalidateQueries({ queryKey: [key] });
  }, [done, queries]);
  return page;
}
