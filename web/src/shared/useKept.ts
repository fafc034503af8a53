import { useCallback, useEffect, useRef, useState } from "react";
import { load, own, save } from "./kept";

// useKept is a state that survives a reload and is the same on every tab.
export function useKept<T>(key: string, otherwise: T): [T, (next: T | ((old: T) => T)) => void] {
  const [value, setValue] = useState<T>(() => load(key, otherwise));
  useEffect(() => {
    const look = (e: Event) => {
      const changed = e instanceof StorageEvent ? e.key : own((e as CustomEvent).detail);
      if (changed === own(key)) setValue((old) => same(old, load(key, old)));
    };
    window.addEventListener("storage", look);
    window.addEventListener("ruvo-kept", look);
    return () => {
      window.removeEventListener("storage", look);
      window.removeEventListener("ruvo-kept", look);
    };
  }, [key]);
  const first = useRef(otherwise);
  const set = useCallback(
    (next: T | ((old: T) => T)) => {
      const now = next instanceof Function ? next(load(key, first.current)) : next;
      save(key, now);
      setValue(now);
    },
    [key],
  );
  return [value, set];
}

function same<T>(old: T, now: T): T {
  return JSON.stringify(old) === JSON.stringify(now) ? old : now;
}
