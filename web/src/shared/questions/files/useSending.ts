import { useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { Problem } from "../../api/client";
import { forget, type Sending, type Start, send, type Upload } from "./sending";

let nextKey = 1;

// atOnce is how many files are sent at the same time; the others wait for their turn.
const atOnce = 4;

// useSending sends files, each with its progress; each can be stopped and tried
// again. arrived is told of each that is there.
export function useSending(start: Start, arrived: (u: Upload) => void) {
  const [sending, setSending] = useState<Sending[]>([]);
  const latest = useRef(arrived);
  latest.current = arrived;
  const tell = (key: number) => (p: Partial<Sending>) =>
    setSending((old) => old.map((s) => (s.key === key ? { ...s, ...p } : s)));

  const begins = useRef(start);
  begins.current = start;
  const under = useRef(0);
  const waiting = useRef<Sending[]>([]);
  const run = async (s: Sending) => {
    if (under.current >= atOnce) {
      waiting.current.push(s);
      return;
    }
    under.current++;
    try {
      const u = await send(s, begins.current, tell(s.key));
      // What it changes is there before anything else is changed: another file that
      // arrives, or a key that is pressed, would take what was there before it.
      flushSync(() => {
        setSending((old) => old.filter((x) => x.key !== s.key));
        latest.current(u);
      });
    } catch (e) {
      if (s.stop.signal.aborted) return;
      const refused = e instanceof Problem && e.status >= 400 && e.status < 500;
      const message = e instanceof Problem ? (e.errors[0]?.message ?? e.message) : String(e);
      tell(s.key)({ state: refused ? "refused" : "stopped", message });
    } finally {
      under.current--;
      let next = waiting.current.shift();
      while (next?.stop.signal.aborted) next = waiting.current.shift();
      if (next) run(next);
    }
  };
  const begin = (files: File[]) => {
    const fresh = files.map(
      (file): Sending => ({
        key: nextKey++,
        file,
        received: 0,
        state: "sending",
        stop: new AbortController(),
      }),
    );
    setSending((old) => [...old, ...fresh]);
    for (const s of fresh) run(s);
  };
  const again = (s: Sending) => {
    const fresh: Sending = { ...s, state: "sending", message: undefined, stop: new AbortController() };
    setSending((old) => old.map((x) => (x.key === s.key ? fresh : x)));
    run(fresh);
  };
  const cancel = (s: Sending) => {
    s.stop.abort();
    setSending((old) => old.filter((x) => x.key !== s.key));
    forget(s.id, s.file);
  };
  // Leaving the page stops what is on its way; picking the file again goes on.
  const running = useRef(sending);
  running.current = sending;
  useEffect(
    () => () => {
      for (const s of running.current) s.stop.abort();
    },
    [],
  );
  return { sending, begin, again, cancel };
}
