import { useEffect, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { randomName } from "../../shared/name";

type Payment = Schemas["Payment"];

type Calls = {
  // look tells what became of the payment; undefined when there is none.
  look: () => Promise<Payment | undefined>;
  onSettled: (p: Payment) => void;
  // what is known of it when the page opens, in place of a look; null for nothing
  first?: Payment | null;
};

// How long to wait before looking again, in milliseconds: longer each time.
const pauses = [1000, 2000, 4000, 8000];

// usePayment runs one payment at a time. While the bank has not answered it
// looks again and again, so that nobody has to reload; what it finds when the
// page opens goes on where it was left.
export function usePayment({ look, onSettled, first }: Calls) {
  // Why nothing was paid is told to who comes back from the payment, not each
  // time that they look.
  const led = useSearchParams()[0].has("back");
  const [payment, setPayment] = useState<Payment | undefined>(first ?? undefined);
  const [problem, setProblem] = useState<unknown>();
  const [busy, setBusy] = useState(false);
  const [attempt, setAttempt] = useState(randomName);
  const calls = useRef({ look, onSettled });
  calls.current = { look, onSettled };
  const heard = (p: Payment) => {
    setPayment(p);
    const done = p.state === "settled" || p.state === "awaiting";
    if (done || p.state === "refused") setAttempt(randomName());
    if (done) calls.current.onSettled(p);
  };
  const heardLatest = useRef(heard);
  heardLatest.current = heard;
  const run = async (call: () => Promise<Payment>) => {
    if (busy) return;
    setBusy(true);
    setProblem(undefined);
    try {
      heard(await call());
    } catch (e) {
      setProblem(e);
    } finally {
      setBusy(false);
    }
  };
  // begin leads to the payment service's page once there is one. The page stays
  // busy until it is left.
  const begin = async (call: () => Promise<Payment>) => {
    if (busy) return;
    setBusy(true);
    setProblem(undefined);
    try {
      const p = await call();
      if (p.state === "confirm" && p.page) {
        window.location.assign(p.page);
        return;
      }
      heard(p);
    } catch (e) {
      setProblem(e);
    }
    setBusy(false);
  };
  // A browser may show the page as it was left: what became of the payment since
  // is looked up.
  useEffect(() => {
    const shown = (e: PageTransitionEvent) => {
      if (!e.persisted) return;
      setBusy(false);
      calls.current
        .look()
        .then((p) => p && heardLatest.current(p))
        .catch(() => undefined);
    };
    window.addEventListener("pageshow", shown);
    return () => window.removeEventListener("pageshow", shown);
  }, []);
  // What was begun before this page was opened.
  const begun = useRef(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the page opens
  useEffect(() => {
    if (begun.current || first !== undefined) return;
    begun.current = true;
    calls.current
      .look()
      .then((p) => p && (p.state !== "refused" || led) && heard(p))
      .catch(() => undefined);
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: as long as the bank is silent
  useEffect(() => {
    if (payment?.state !== "asked") return;
    let tries = 0;
    let timer = 0;
    const again = () => {
      timer = window.setTimeout(
        async () => {
          tries++;
          const p = await calls.current.look().catch(() => undefined);
          if (p && p.state !== "asked") heard(p);
          else again();
        },
        pauses[Math.min(tries, pauses.length - 1)],
      );
    };
    again();
    return () => window.clearTimeout(timer);
  }, [payment?.state]);
  return { payment, problem, busy, attempt, run, begin };
}
