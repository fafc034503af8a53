import { type UseMutationOptions, useMutation } from "@tanstack/react-query";
import { useRef } from "react";

// A doubled click's second press comes within this time, in ms, also when what
// it made was there faster.
const doubled = 400;

// useSingle is a mutation for what would be made twice by a doubled click: it
// begins only when the one before has ended. What the mutation says of itself
// comes too late for that.
export function useSingle<Data, Given = void>(options: UseMutationOptions<Data, Error, Given>) {
  const busy = useRef(false);
  const m = useMutation(options);
  const free = () => {
    busy.current = false;
  };
  const mutate = (given: Given) => {
    if (busy.current) return;
    busy.current = true;
    m.mutate(given, {
      onSuccess: () => setTimeout(free, doubled),
      onError: free, // what was refused is sent again at once
    });
  };
  return { ...m, mutate };
}
