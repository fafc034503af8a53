import { useEffect, useRef } from "react";
import { api, take } from "../shared/api/client";
import { useKept } from "../shared/useKept";
import { type Entry, useBasket } from "./keep";

const pause = 1200; // ms without a change, after which the basket is kept

// What the server was told last: whose basket it is, and its entries. It is kept here too, so that
// what is ordered or taken out before a reload does not come back with it.
type Told = { email: string; entries: Entry[] };

const textOf = (basket: Entry[]) => JSON.stringify(basket);

// useSyncedBasket keeps the basket of whoever signed in at the server, merged with what
// they put together on other devices. Without a connection it stays here, and is kept
// with the next change.
export function useSyncedBasket(email: string | undefined) {
  const [basket, setBasket] = useBasket();
  const [told, setTold] = useKept<Told | null>("ruvo.told", null);
  const first = useRef(true);
  const newest = useRef(basket);
  newest.current = basket;
  useEffect(() => {
    if (!email) return;
    const mine = told?.email === email ? told.entries : undefined;
    if (!first.current && mine && textOf(mine) === textOf(basket)) return;
    const timer = setTimeout(
      async () => {
        first.current = false;
        const sent = newest.current;
        const gone = (mine ?? []).filter((e) => !sent.some((x) => x.id === e.id)).map((e) => e.id);
        try {
          const merged = await take(api.PUT("/api/shop/mine/basket", { body: { entries: sent, gone } }));
          setTold({ email, entries: merged.entries });
          if (textOf(newest.current) === textOf(sent)) setBasket(merged.entries);
        } catch {
          // the next change is kept with this one
        }
      },
      first.current ? 0 : pause,
    );
    return () => clearTimeout(timer);
  }, [email, basket, told, setBasket, setTold]);
}
