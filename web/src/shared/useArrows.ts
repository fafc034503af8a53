import { useEffect } from "react";

// useArrows goes through so many things, one at a time, with the arrow keys; those that are
// pressed in a field are the field's.
export function useArrows(at: number, of: number, go: (at: number) => void) {
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement) return;
      if (e.key === "ArrowRight" && at + 1 < of) go(at + 1);
      else if (e.key === "ArrowLeft" && at > 0) go(at - 1);
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [at, of, go]);
}
