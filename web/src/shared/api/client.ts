import i18next from "i18next";
import createClient from "openapi-fetch";
import { home } from "../home";
import { load } from "../kept";
import { keyed } from "./keyed";
import type { components, paths } from "./schema.gen";

export type Schemas = components["schemas"];

export const api = createClient<paths>({ baseUrl: `${home}/`, fetch: keyed });

// When somebody last touched the page. What a page asks by itself while nobody
// is there does not count as use, so that a desk left alone signs out.
let touched = Date.now();
const alone = 60_000; // ms
for (const what of ["pointerdown", "pointermove", "keydown", "wheel"])
  window.addEventListener(what, () => (touched = Date.now()), { passive: true, capture: true });

// signedOut is told on the window when the desk's session is found to be over.
export const signedOut = "ruvo-signed-out";

// Under wishedCurrency is kept in which currency a customer wishes to see prices,
// and to pay.
export const wishedCurrency = "ruvo.currency";

// Under keptTurns are kept the secrets of what is held for this customer, who waited
// for it.
export const keptTurns = "ruvo.turns";

api.use({
  onRequest({ request }) {
    request.headers.set("Accept-Language", i18next.language);
    const wished = load<unknown>(wishedCurrency, "");
    if (typeof wished === "string" && wished !== "") request.headers.set("Ruvo-Currency", wished);
    const turns = load<string[]>(keptTurns, []);
    if (turns.length > 0) request.headers.set("Ruvo-Turn", turns.join(","));
    if (Date.now() - touched > alone) request.headers.set("Ruvo-Unattended", "1");
    return request;
  },
  onResponse({ request, response }) {
    const path = new URL(request.url).pathname.slice(home.length);
    if (response.status === 401 && path.startsWith("/api/desk") && path !== "/api/desk/session")
      window.dispatchEvent(new Event(signedOut));
    return response;
  },
});

// A Problem is what the server said was wrong, as an error that can be thrown.
export class Problem extends Error {
  status: number;
  code: string;
  errors: Schemas["FieldError"][];
  constructor(p: Schemas["Problem"]) {
    super(p.title + (p.detail ? ` ${p.detail}` : ""));
    this.status = p.status;
    this.code = p.type.slice(p.type.lastIndexOf("/") + 1);
    this.errors = p.errors ?? [];
  }

  // lasting says that it stays as it is however often one tries: not signed in, not
  // allowed, not there, gone.
  get lasting() {
    return [401, 403, 404, 410].includes(this.status);
  }

  // passing says that it may be over in a moment: not reached, asked too often, or a
  // fault of the server itself.
  get passing() {
    return this.status === 0 || this.status === 429 || this.status >= 500;
  }

  // without gives the problem without what it said of one field and its parts;
  // nothing when that was all. What was said of an answer no longer holds once
  // the answer is another one.
  without(key: string): Problem | undefined {
    const left = this.errors.filter((e) => e.key !== key && !e.key.startsWith(`${key}.`));
    if (left.length === this.errors.length) return this;
    if (left.length === 0) return undefined;
    return Object.assign(Object.create(Problem.prototype), this, { errors: left });
  }

  // of gives the message of one field.
  of(key: string): string | undefined {
    return this.errors.find((e) => e.key === key)?.message;
  }
}

type Outcome<T> = { data?: T; error?: unknown; response: Response };

// take waits for an answer and throws a Problem when it is one. A server that
// cannot be reached is a problem like any other.
export async function take<T>(call: Promise<Outcome<T>>): Promise<T> {
  let out: Outcome<T>;
  try {
    out = await call;
  } catch (e) {
    if (e instanceof DOMException && e.name === "AbortError") throw e;
    throw new Problem({
      type: "ruvo/offline",
      title: i18next.t("The connection is lost. What you typed is kept; try again in a moment."),
      status: 0,
    });
  }
  if (out.error !== undefined || !out.response.ok) {
    const p = out.error as Partial<Schemas["Problem"]> | undefined;
    throw new Problem({
      type: p?.type ?? "ruvo/unknown",
      title: p?.title ?? i18next.t("Something went wrong. Try again."),
      status: p?.status ?? out.response.status,
      detail: p?.detail,
      errors: p?.errors,
    });
  }
  return out.data as T;
}
