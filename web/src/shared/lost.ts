import { Problem } from "./api/client";

// lost gives what went wrong where it has to stand in the place of what was asked
// for. What is there already stays, with all that was typed in it, when it can only
// not be looked at anew.
export function lost(asked: { data: unknown; error: Error | null }) {
  return asked.data !== undefined && unreached(asked) ? null : asked.error;
}

// pause is how long it takes until what did not come is asked for again, in
// milliseconds.
export const pause = 5_000;

// unreached tells that the newest of what was asked for did not come, and may yet.
export function unreached({ error }: { error: unknown }) {
  return error instanceof Problem ? error.passing : Boolean(error);
}
