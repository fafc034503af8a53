import { createContext, useCallback, useContext, useEffect, useRef, useState } from "react";
import { load, own, save } from "./kept";

// Within MemoryContext what would be kept in the browser stays in a map, where something
// is only looked at.
export const MemoryContext = createContext<Map<string, unknown> | undefined>(undefined);

// useKept is a state that survives a reload and is the same on every tab.
export function useKept<T>(key: string, otherwise: T): [T, (next: T | ((old: T) => T)) => void] {
  const memory = useContext(MemoryContext);
  const read = useCallback(
    (or: T): T => (memory ? ((memory.get(key) as T | undefined) ?? or) : load(key, or)),
    [memory, key],
  );
  const [value, setValue] = useState<T>(() => read(otherwise));
  useEffect(() => {
    const look = (e: Event) => {
      const changed = e instanceof StorageEvent ? e.key : own((e as CustomEvent).detail);
      if (changed === own(key)) setValue((old) => same(old, read(old)));
    };
    window.addEventListener("storage", look);
    window.addEventListener("ruvo-kept", look);
    return () => {
      window.removeEventListener("storage", look);
      window.removeEventListener("ruvo-kept", look);
    };
  }, [key, read]);
  const first = useRef(otherwise);
  const set = useCallback(
    (next: T | ((old: T) => T)) => {
      const now = next instanceof Function ? next(read(first.current)) : next;
      if (memory) {
        memory.set(key, now);
        window.dispatchEvent(new CustomEvent("ruvo-kept", { detail: key }));
      } else save(key, now);
      setValue(now);
    },
    [key, read, memory],
  );
  return [value, set];
}

function same<T>(old: T, now: T): T {
  return JSON.stringify(old) === JSON.stringify(now) ? old : now;
}
