import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Problem } from "./api/client";

// A doubled click's second press comes within this time, in ms, also when what
// the first one sent was made faster.
const doubled = 400;

type Change<Data, Given> = {
  send: (given: Given) => Promise<Data>;
  done?: (data: Data, given: Given) => void;
  refused?: (problem: unknown) => void;
  // first parts of the keys of what is asked for again afterwards, also when it
  // was refused: what is shown can be old then
  refreshes?: readonly string[];
  // first parts of the keys of what is asked for again before it counts as made: what
  // stands under a dialog is as it is then when the dialog goes
  waits?: readonly string[];
  // a doubled click would make it twice
  once?: boolean;
};

// useChange is a change that is sent to the server: whether it is under way,
// what was wrong with it, and what it came to. The same change is not sent
// again while it is under way.
export function useChange<Data, Given = void>(change: Change<Data, Given>) {
  const queries = useQueryClient();
  const [under, setUnder] = useState(0);
  const [problem, setProblem] = useState<unknown>();
  const [data, setData] = useState<Data>();
  const [isDone, setDone] = useState(false);
  const sent = useRef(new Set<string>());
  const latest = useRef(change);
  latest.current = change;
  // send says whether the change was made.
  const send = async (given: Given): Promise<boolean> => {
    const same = JSON.stringify(given) ?? "";
    if (sent.current.has(same)) return false;
    sent.current.add(same);
    setUnder((n) => n + 1);
    const free = () => sent.current.delete(same);
    try {
      const answer = await latest.current.send(given);
      await Promise.all(
        (latest.current.waits ?? []).map((key) => queries.invalidateQueries({ queryKey: [key] })),
      );
      if (latest.current.once) setTimeout(free, doubled);
      else free();
      setProblem(undefined);
      setData(answer);
      setDone(true);
      latest.current.done?.(answer, given);
      return true;
    } catch (e) {
      free(); // what was refused is sent again at once
      setProblem(e);
      latest.current.refused?.(e);
      return false;
    } finally {
      setUnder((n) => n - 1);
      for (const key of latest.current.refreshes ?? []) queries.invalidateQueries({ queryKey: [key] });
    }
  };
  return {
    send,
    busy: under > 0,
    problem,
    data,
    done: isDone,
    // of gives what is wrong with one field.
    of: (key: string) => (problem instanceof Problem ? problem.of(key) : undefined),
    // forget forgets what was wrong: with one field that is another one now, or
    // with all of it.
    forget: (key?: string) =>
      setProblem((old: unknown) => (key ? (old instanceof Problem ? old.without(key) : old) : undefined)),
  };
}
