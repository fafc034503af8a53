import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import type { Schemas } from "../api/client";
import { monthsApart } from "./days";

export type Days = Schemas["BookableDays"];
export type BookableDay = Schemas["BookableDay"];

// What narrows the days: for how many people, how long, with whom, and from where
// a stay goes on.
export type Narrowed = { people: number; length?: number; with?: number[]; begin?: string };

// DaysSource asks the server what can be booked. What it gives hangs on its key.
export type DaysSource = {
  key: readonly unknown[];
  ask: (asked: Narrowed & { from: string; to: string }) => Promise<Days>;
  // has the customer wait for what is booked up; missing where nobody can
  wait?: (w: Omit<Schemas["NewWait"], "answers">) => Promise<Schemas["Waiting"]>;
};

const lastOf = (month: string) => {
  const d = new Date(`${monthsApart(month, 1)}-01T12:00:00Z`);
  d.setUTCDate(0);
  return d.toISOString().slice(0, 10);
};

// picks gives the answers that decide what can be booked.
export function picks(page: Schemas["ProductPage"], answers: Record<string, unknown>) {
  return Object.fromEntries((page.booking?.reads ?? []).map((k) => [k, answers[k]]));
}

const looksAgain = 30_000; // milliseconds: others book meanwhile

// useMonth gives what can be booked in a month, and has the months beside it ready
// so that turning to them costs no wait.
export function useMonth(source: DaysSource | undefined, month: string, narrowed: Narrowed) {
  const queries = useQueryClient();
  const of = (m: string) => ({
    queryKey: [...(source?.key ?? []), m, narrowed],
    queryFn: () =>
      source?.ask({ ...narrowed, from: `${m}-01`, to: lastOf(m) }) ??
      Promise.reject(new Error("nothing to ask")),
    staleTime: looksAgain / 2,
  });
  const days = useQuery({
    ...of(month),
    enabled: source !== undefined && month !== "",
    placeholderData: (old: Days | undefined) => old,
    refetchInterval: looksAgain,
  });
  const there = days.data !== undefined && !days.isPlaceholderData;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once a month is there, its neighbours are asked for
  useEffect(() => {
    if (!there || !source) return;
    if (days.data && `${monthsApart(month, 1)}-01` <= days.data.last)
      queries.prefetchQuery(of(monthsApart(month, 1)));
  }, [there, month, JSON.stringify(narrowed)]);
  return { ...days, there };
}
