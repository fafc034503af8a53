import { useCallback, useEffect, useRef, useState } from "react";
import type { Schemas } from "../shared/api/client";
import { load, save } from "../shared/kept";

// An Entry is a line of the basket; an add-on names the entry that it is of.
export type Entry = Omit<Schemas["BasketLine"], "parent"> & { id: string; of?: string };

// What is given for the whole order.
export type Extras = { coupons: string[]; tip?: number; buyer?: Schemas["Buyer"] };

export type Person = { name: string; email: string };

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
export const extrasKey = "ruvo.extras";
// The private link of the order page that somebody went from to pay.
export const payingKey = "ruvo.paying";

export function useBasket() {
  return useKept<Entry[]>(basketKey, []);
}

export function forget(key: string) {
  save(key, undefined);
}

export function useExtras() {
  return useKept<Extras>(extrasKey, { coupons: [] });
}

// ordered puts each add-on behind what it is of, and leaves out those whose
// parent is gone.
export function ordered(basket: Entry[]): Entry[] {
  return basket.filter((e) => !e.of).flatMap((e) => [e, ...basket.filter((x) => x.of === e.id)]);
}

// linesOf gives the basket as it is sent, each add-on with the number of the
// line that it is of.
export function linesOf(basket: Entry[]): Schemas["BasketLine"][] {
  const all = ordered(basket);
  return all.map(({ id: _, of, ...line }) => ({
    ...line,
    ...(of ? { parent: all.findIndex((e) => e.id === of) + 1 } : {}),
  }));
}
