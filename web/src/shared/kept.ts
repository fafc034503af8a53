// What people typed is kept in their browser, so that a reload or a lost
// connection loses nothing: each thing with when it was kept last. After 30
// days untouched it ends. Every read expects that the store holds nonsense.

import { home, rehearsing } from "./home";

const lifetime = 30 * 24 * 60 * 60 * 1000; // ms
// A rehearsal keeps its own, and sees nothing of what was typed in the shop.
const ours = rehearsing ? `ruvo.${home}.` : "ruvo.";
export const own = (key: string) => key.replace(/^ruvo\./, ours);
// What tells nothing of a person, and stays.
const settings = ["ruvo.language", "ruvo.currency"];

type Kept = { at: number; value: unknown };

function parse(raw: string): Kept | undefined {
  try {
    const kept = JSON.parse(raw) as Partial<Kept> | null;
    if (typeof kept === "object" && typeof kept?.at === "number" && "value" in kept) return kept as Kept;
  } catch {
    // written by nobody we know
  }
  return undefined;
}

// A clock that was set back makes nothing last longer.
const over = (k: Kept) => Math.abs(Date.now() - k.at) > lifetime;

export function load<T>(key: string, otherwise: T): T {
  try {
    const raw = localStorage.getItem(own(key));
    const kept = raw === null ? undefined : parse(raw);
    return kept === undefined || over(kept) ? otherwise : (kept.value as T);
  } catch {
    return otherwise;
  }
}

export function save(key: string, value: unknown) {
  try {
    if (value === undefined) localStorage.removeItem(own(key));
    else localStorage.setItem(own(key), JSON.stringify({ at: Date.now(), value } satisfies Kept));
    window.dispatchEvent(new CustomEvent("ruvo-kept", { detail: key }));
  } catch {
    // A full or forbidden store only costs the keeping.
  }
}

// drop takes away what it is told to of all that is kept.
function drop(which: (raw: string) => boolean) {
  try {
    for (const key of Object.keys(localStorage)) {
      if (!key.startsWith(ours) || settings.includes(key)) continue;
      if (which(localStorage.getItem(key) ?? "")) localStorage.removeItem(key);
    }
  } catch {
    // A forbidden store holds nothing.
  }
}

// tidy takes away what has ended, and what cannot be read.
export function tidy() {
  drop((raw) => {
    const kept = parse(raw);
    return kept === undefined || over(kept);
  });
}

// forgetAll takes away all that is kept of a person.
export function forgetAll() {
  drop(() => true);
}
