import type { Schemas } from "../shared/api/client";
import { save } from "../shared/kept";
import { useKept } from "../shared/useKept";

// An Entry is a line of the basket; an add-on names the entry that it is of.
export type Entry = Omit<Schemas["BasketLine"], "parent"> & { id: string; of?: string };

// What is given for the whole order.
export type Extras = {
  coupons: string[];
  tip?: number;
  buyer?: Schemas["Buyer"];
  recipient?: Schemas["RecipientWish"];
  news?: number; // the version of the text about news that was agreed to
};

export type Person = { name: string; email: string };

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
