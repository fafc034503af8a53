import { useEffect, useRef } from "react";

// usePressed does something at the first press on a page, once for what it is for, by a
// name; empty for nothing. That a page was opened shows nothing, since mail programs
// open links too.
export function usePressed(what: string, act: () => void) {
  const done = useRef("");
  const newest = useRef(act);
  newest.current = act;
  useEffect(() => {
    if (what === "" || done.current === what) return;
    const kinds = ["pointerdown", "keydown"];
    const leave = () => {
      for (const kind of kinds) window.removeEventListener(kind, press);
    };
    const press = () => {
      leave();
      done.current = what;
      newest.current();
    };
    for (const kind of kinds) window.addEventListener(kind, press);
    return leave;
  }, [what]);
}
