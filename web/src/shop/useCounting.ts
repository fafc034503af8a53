import { type RefObject, useCallback, useEffect, useRef } from "react";
import type { Schemas } from "../shared/api/client";
import { home } from "../shared/home";

type Event = Schemas["StopEvent"];

const pause = 4000; // ms, in which counts are gathered
const seen = 0.6; // of a question, in view
const longest = 600; // seconds at a question; whoever is longer went for a walk

export type Counting = { count: (what: Event["what"]) => void };

// useCounting counts how far customers come with what is asked under a root: which
// questions come into view, and how long somebody is at each. It knows no person: counts
// are sent by themselves, and nothing is kept to tell a visit from another.
export function useCounting(
  root: RefObject<HTMLElement | null>,
  product: { slug: string; edition: number } | undefined,
  begins = false, // whether answering begins here, and not on a page before
): Counting {
  const waiting = useRef<Event[]>([]);
  const once = useRef(new Set<string>());
  const slug = product?.slug;
  const edition = product?.edition;
  const add = useRef((_: Event) => {});
  add.current = (e) => {
    if (e.what !== "took") {
      const name = `${e.what} ${e.key ?? ""}`;
      if (once.current.has(name)) return;
      once.current.add(name);
    }
    waiting.current.push(e);
  };
  useEffect(() => {
    const box = root.current;
    if (!box || slug === undefined || edition === undefined) return;
    const send = () => {
      const events = waiting.current.splice(0, 200);
      if (events.length === 0) return;
      // It goes out while the page is left, too. One that is lost is not worth a word.
      navigator.sendBeacon(
        `${home}/api/shop/products/${encodeURIComponent(slug)}/counts`,
        new Blob([JSON.stringify({ edition, events } satisfies Schemas["StopEvents"])], {
          type: "application/json",
        }),
      );
    };
    const keyOf = (at: EventTarget | null) =>
      at instanceof Element ? at.closest<HTMLElement>("[data-question]")?.dataset.question : undefined;
    let at: { key: string; since: number } | undefined;
    const leave = () => {
      if (!at) return;
      const seconds = Math.round((performance.now() - at.since) / 1000);
      if (seconds <= longest) add.current({ what: "took", key: at.key, seconds });
      at = undefined;
    };
    const enter = (e: FocusEvent) => {
      const key = keyOf(e.target);
      if (key === undefined || key === at?.key) return;
      leave();
      at = { key, since: performance.now() };
      if (begins) add.current({ what: "began" });
      add.current({ what: "reached", key });
    };
    const view = new IntersectionObserver(
      (entries) => {
        for (const e of entries) {
          const key = keyOf(e.target);
          if (e.isIntersecting && key !== undefined) add.current({ what: "reached", key });
        }
      },
      { threshold: seen },
    );
    const watched = new WeakSet<Element>();
    const watch = () => {
      for (const q of box.querySelectorAll("[data-question]")) {
        if (watched.has(q)) continue;
        watched.add(q);
        view.observe(q);
      }
    };
    const fresh = new MutationObserver(watch);
    const hide = () => {
      if (document.visibilityState === "hidden") {
        leave();
        send();
      }
    };
    watch();
    fresh.observe(box, { childList: true, subtree: true });
    box.addEventListener("focusin", enter);
    document.addEventListener("visibilitychange", hide);
    const timer = setInterval(send, pause);
    return () => {
      leave();
      send();
      clearInterval(timer);
      view.disconnect();
      fresh.disconnect();
      box.removeEventListener("focusin", enter);
      document.removeEventListener("visibilitychange", hide);
    };
  }, [root, slug, edition, begins]);
  const count = useCallback((what: Event["what"]) => add.current({ what }), []);
  return { count };
}
