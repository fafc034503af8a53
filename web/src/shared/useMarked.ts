import { useEffect, useRef, useState } from "react";
import { questionAt } from "./point";

// useMarked tells which question within a part of the page has the focus, or
// else lies under the pointer: the slip marks its lines.
export function useMarked<E extends HTMLElement>() {
  const root = useRef<E>(null);
  const [focused, setFocused] = useState("");
  const [under, setUnder] = useState("");
  useEffect(() => {
    const box = root.current;
    if (!box) return;
    const within = new AbortController();
    const on = (event: string, does: (e: Event) => void) =>
      box.addEventListener(event, does, { signal: within.signal });
    on("focusin", (e) => setFocused(questionAt(e.target)));
    on("focusout", () => setFocused(""));
    on("pointerover", (e) => setUnder(questionAt(e.target)));
    on("pointerleave", () => setUnder(""));
    return () => within.abort();
  });
  return { root, marked: focused || under };
}
