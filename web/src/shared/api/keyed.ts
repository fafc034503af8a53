import { randomName } from "../name";

// What only computes needs no key, and a password is not to be remembered.
const computing =
  /\/(evaluate|basket|try|preview|rename|reprice|replay|present|session|match|what-if)$|\/presence\//;

// Keys of requests of which no answer came, by what was asked for.
const unanswered = new Map<string, string>();
const most = 50;

// keyed sends a request. A POST has a key, by which the server knows it again: the
// same request after a lost connection has the same key, and is not done twice.
export async function keyed(request: Request): Promise<Response> {
  if (request.method !== "POST" || computing.test(new URL(request.url).pathname))
    return window.fetch(request);
  // A file that is sent is not kept in memory only to know it again.
  const type = request.headers.get("Content-Type");
  const body = type === null || type.includes("json") ? await request.clone().text() : randomName();
  const what = `${request.url} ${body}`;
  const key = unanswered.get(what) ?? randomName();
  request.headers.set("Idempotency-Key", `"${key}"`);
  if (unanswered.size > most) unanswered.clear();
  unanswered.set(what, key);
  const answer = await window.fetch(request); // without one the key stays
  if (answer.status < 500) unanswered.delete(what);
  return answer;
}
