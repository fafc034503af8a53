import { useSearchParams } from "react-router";

export type Part = Record<string, string | undefined>;

// useAddress gives what stands in the address behind "?", and changes parts of it; what is
// undefined or empty goes. Another part than the page begins at the first page. It changes
// the address as it stands now, which is ahead of what is drawn while somebody is quick.
export function useAddress(replace = false): [URLSearchParams, (part: Part) => void] {
  const [params, setParams] = useSearchParams();
  const set = (part: Part) => {
    const next = new URLSearchParams(window.location.search);
    if (!("page" in part)) next.delete("page");
    for (const [key, value] of Object.entries(part)) {
      if (value) next.set(key, value);
      else next.delete(key);
    }
    setParams(next, { replace });
  };
  return [params, set];
}
