import { useQuery } from "@tanstack/react-query";
import { api, type Schemas, take } from "../api/client";

type Fact = Schemas["KindFact"];

// useKinds gives what each kind of question can do, as the server knows it: how
// conditions may compare its answers, what of an answer can be counted, whether
// it can be asked for each unit or entry; what a key looks like, and the names
// that are none.
export function useKinds() {
  const { data } = useQuery({
    queryKey: ["kinds"],
    queryFn: () => take(api.GET("/api/desk/kinds")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return {
    kind: (kind?: string): Fact | undefined => data?.kinds.find((k) => k.kind === kind),
    ops: data?.ops ?? {},
    reserved: data?.reserved ?? [],
    keyed: (key: string) => new RegExp(data?.key_form ?? "").test(key),
  };
}
