import { useEffect, useRef, useState } from "react";
import { api, type Schemas, take } from "../../shared/api/client";

type Walked = Schemas["Walked"];

// useWalks has a draft walked so often, one walk after the other, so that it is seen how
// far they are and they can be stopped. What came of them by then stands.
export function useWalks(product: number) {
  const [came, setCame] = useState<Walked>();
  const [wanted, setWanted] = useState(0); // 0 while none is under way
  const [problem, setProblem] = useState<unknown>();
  const stopped = useRef(false);
  useEffect(
    () => () => {
      stopped.current = true;
    },
    [],
  );
  const walk = async (n: number, seed?: number) => {
    stopped.current = false;
    setProblem(undefined);
    setCame(undefined);
    setWanted(n);
    let all: Walked | undefined;
    try {
      for (let first = 1; first <= n && !stopped.current; first++) {
        const body = { walks: 1, first, seed: all?.seed ?? seed };
        const one = await take(
          api.POST("/api/desk/products/{id}/walk", { params: { path: { id: product } }, body }),
        );
        all = all ? together(all, one) : one;
        setCame(all);
      }
    } catch (e) {
      setProblem(e);
    }
    setWanted(0);
  };
  return {
    came,
    wanted,
    problem,
    walk,
    stop: () => {
      stopped.current = true;
    },
  };
}

const together = (a: Walked, b: Walked): Walked => ({
  seed: a.seed,
  walks: a.walks + b.walks,
  paid: a.paid + b.paid,
  briefed: a.briefed + b.briefed,
  done: a.done + b.done,
  failed: [...a.failed, ...b.failed],
});
