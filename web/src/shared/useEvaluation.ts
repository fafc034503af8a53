import { replaceEqualDeep } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { useTranslation } from "react-i18next";
import { pause, unreached } from "./lost";
import { steadily } from "./steadily";

const debounce = 150; // milliseconds

// draw shows what an answer of the server changes, under the hand of who types on.
const draw = (change: () => void) => steadily(() => flushSync(change));

// useEvaluation asks the server about an input that changes while somebody
// types: after a short pause, one question at a time in flight, by itself again
// when the server could not be reached, and never showing the answer to an older
// input as that to the newest. What it gives is stale while the newest input has
// no answer yet.
export function useEvaluation<In, Out>(
  input: In | undefined,
  ask: (input: In, signal: AbortSignal) => Promise<Out>,
  wait = debounce,
) {
  const [state, setState] = useState<{ for: string; result: Out } | undefined>();
  const [error, setError] = useState<unknown>();
  const { i18n } = useTranslation();
  const key = input === undefined ? "" : i18n.language + JSON.stringify(input);
  const latest = useRef({ input, ask });
  latest.current = { input, ask };
  const [attempt, setAttempt] = useState(0);
  const before = useRef(false);

  // biome-ignore lint/correctness/useExhaustiveDependencies: attempt asks again
  useEffect(() => {
    if (key === "") return;
    const stop = new AbortController();
    // The first question of a page is not typed, so it need not wait.
    const timer = setTimeout(
      async () => {
        const { input, ask } = latest.current;
        if (input === undefined) return;
        try {
          const result = await ask(input, stop.signal);
          if (stop.signal.aborted) return;
          before.current = true;
          // What did not change stays the same object, so that it is not drawn again.
          draw(() => {
            setState((old) => ({ for: key, result: replaceEqualDeep(old?.result, result) as Out }));
            setError(undefined);
          });
        } catch (e) {
          if (!stop.signal.aborted) draw(() => setError(e));
        }
      },
      before.current ? wait : 0,
    );
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [key, attempt, wait]);

  useEffect(() => {
    if (!unreached({ error })) return;
    const timer = setTimeout(() => setAttempt((n) => n + 1), pause);
    return () => clearTimeout(timer);
  }, [error]);

  return {
    result: state?.result,
    stale: state?.for !== key,
    error,
    again: () => setAttempt((n) => n + 1),
  };
}
