import { useCallback, useEffect, useRef, useState } from "react";
import type { Schemas } from "../shared/api/client";

// What a customer typed is kept in the browser, so that a reload or a lost
// connection loses nothing. Every read expects that the store holds nonsense.

export type Entry = Schemas["BasketLine"] & { id: string };

export type Person = { name: string; email: string };

function load<T>(key: string, otherwise: T): T {
  try {
    const raw = localStorage.getItem(key);
    return raw === null ? otherwise : (JSON.parse(raw) as T);
  } catch {
    return otherwise;
  }
}

function save(key: string, value: unknown) {
  try {
    if (value === undefined) localStorage.removeItem(key);
    else localStorage.setItem(key, JSON.stringify(value));
    window.dispatchEvent(new CustomEvent("ruvo-kept", { detail: key }));
  } catch {
    // A full or forbidden store only costs the keeping.
  }
}

// useKept is a state that survives a reload and is the same on every tab.
export function useKept<T>(key: string, otherwise: T): [T, (next: T | ((old: T) => T)) => void] {
  const [value, setValue] = useState<T>(() => load(key, otherwise));
  useEffect(() => {
    const look = (e: Event) => {
      const changed = e instanceof StorageEvent ? e.key : (e as CustomEvent).detail;
      if (changed === key) setValue((old) => same(old, load(key, old)));
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

export const basketKey = "ruvo.basket";
export const personKey = "ruvo.person";
export const checkoutKey = "ruvo.checkout";

export function useBasket() {
  return useKept<Entry[]>(basketKey, []);
}

export function forget(key: string) {
  save(key, undefined);
}
