import { useEffect, useRef, useState } from "react";
import type { Item, useDecide } from "./useDecide";

type Lying = { file: string; name: string };

const ids = (files: Lying[] | undefined) => (files ?? []).map((f) => f.file);

// useBeside keeps which files lie beside an item. Several arrive one after the other while
// the first of them is being kept: what is shown is what is to be, and it is kept once
// nothing else is under way.
export function useBeside(item: Item, decide: ReturnType<typeof useDecide>) {
  const [wanted, setWanted] = useState<Lying[]>();
  const to = ids(wanted).join();
  const kept = ids(item.files).join();
  const name = `${item.version} ${to}`;
  const sent = useRef(""); // the same is not sent again for the same item
  const latest = useRef({ item, wanted, decide });
  latest.current = { item, wanted, decide };
  const { busy } = decide;
  useEffect(() => {
    const now = latest.current;
    if (!now.wanted || busy) return;
    if (to === kept) setWanted(undefined);
    else if (sent.current !== name) {
      sent.current = name;
      now.decide.decide(now.item, { files: ids(now.wanted) });
    }
  }, [to, kept, name, busy]);
  return {
    files: wanted ?? item.files ?? [],
    coming: wanted?.filter((f) => !ids(item.files).includes(f.file)) ?? [],
    set: (files: Lying[]) => setWanted(files),
  };
}
