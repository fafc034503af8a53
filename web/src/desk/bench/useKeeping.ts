import { useEffect, useRef, useState } from "react";

const saveAfter = 600; // milliseconds without typing

// How far what was typed is kept.
export type Kept = { state: "kept" } | { state: "keeping" } | { state: "refused"; problem: unknown };

// useKeeping keeps on the server what changes in the browser, a moment after
// each change and when the page is left. One request runs at a time, so that
// versions follow each other; a refused one loses nothing that was typed.
export function useKeeping<T>(start: T, send: (value: T) => Promise<void>) {
  const [value, setValue] = useState(start);
  const [kept, setKept] = useState<Kept>({ state: "kept" });
  const latest = useRef(start);
  const saved = useRef(start);
  // What was refused is sent again when its writer asks for it, or changes it.
  const refused = useRef<T>(undefined);
  const running = useRef<Promise<void>>(undefined);
  const sender = useRef(send);
  sender.current = send;

  // alone runs something when nothing else runs. Several may wait for the same
  // end, so each looks anew.
  const alone = useRef(async (run: () => Promise<void>): Promise<void> => {
    while (running.current) await running.current.catch(() => undefined);
    running.current = run().finally(() => {
      running.current = undefined;
    });
    await running.current;
  });

  // put says whether what there was to keep is kept.
  const put = useRef(async (): Promise<boolean> => {
    const sent = latest.current;
    if (sent === saved.current) return true;
    setKept({ state: "keeping" });
    try {
      await sender.current(sent);
      saved.current = sent;
      setKept({ state: "kept" });
      return true;
    } catch (problem) {
      refused.current = sent;
      setKept({ state: "refused", problem });
      return false;
    }
  });

  const keep = useRef(() =>
    alone.current(async () => {
      await put.current();
    }),
  );

  // whenKept runs something that builds on what is kept, and leaves it when
  // that is refused.
  const whenKept = useRef((run: () => Promise<void>) =>
    alone.current(async () => {
      if (await put.current()) await run();
    }),
  );

  useEffect(() => {
    latest.current = value;
    if (value === saved.current) return;
    const timer = setTimeout(() => {
      if (refused.current !== value) keep.current();
    }, saveAfter);
    return () => clearTimeout(timer);
  }, [value]);

  useEffect(() => {
    const flush = keep.current;
    return () => {
      flush();
    };
  }, []);

  return {
    value,
    setValue,
    kept,
    setKept,
    keep: keep.current,
    whenKept: whenKept.current,
    dirty: value !== saved.current,
    // pending says whether something waits to be kept, asked at any time
    pending: () => latest.current !== saved.current,
    // arrived takes over what the server has
    arrived: (next: T) => {
      latest.current = next;
      saved.current = next;
      setValue(next);
    },
  };
}
