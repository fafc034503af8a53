import { type SetURLSearchParams, useSearchParams } from "react-router";

export type Part = Record<string, string | undefined>;

type Change = (part: Part, replace?: boolean) => void;

// useAddress gives what stands in the address behind "?", changes parts of it, and puts
// something else in its place. What is undefined or empty goes; another part than the page
// begins at the first page. A change is of the address as it stands now, which is ahead of
// what is drawn while somebody is quick.
export function useAddress(): [URLSearchParams, Change, SetURLSearchParams] {
  const [params, setParams] = useSearchParams();
  const set: Change = (part, replace = false) => {
    const next = new URLSearchParams(window.location.search);
    if (!("page" in part)) next.delete("page");
    for (const [key, value] of Object.entries(part)) {
      if (value) next.set(key, value);
      else next.delete(key);
    }
    setParams(next, { replace });
  };
  return [params, set, setParams];
}
