import i18next from "i18next";
import { api, Problem, type Schemas, take } from "../../api/client";
import { home } from "../../home";
import { load, save } from "../../kept";

export type Upload = Schemas["Upload"];

// What is on its way: a file that is being sent, was stopped by a lost
// connection, or was refused.
export type Sending = {
  key: number;
  file: File;
  id?: string;
  received: number;
  state: "sending" | "stopped" | "refused";
  message?: string;
  stop: AbortController;
};

// A Start makes room for a file at the server.
export type Start = (name: string, size: number) => Promise<Upload>;

// forAnswer makes room for a file that will be part of an answer.
export const forAnswer =
  (edition: number, question: string): Start =>
  (name, size) =>
    take(
      api.POST("/api/shop/uploads", {
        body: { name, size, question, edition: edition > 0 ? edition : undefined },
      }),
    );

const smallest = 128 * 1024; // bytes of a piece
const largest = 4 * 1024 * 1024;
const patience = 5; // tries in a row without a byte
const memory = (f: File) => `ruvo.upload.${f.name}.${f.size}.${f.lastModified}`;

// send sends a file in pieces, so that its progress is known and a lost
// connection costs one piece. A file that was begun before, even before a
// reload, goes on where it stopped.
export async function send(
  s: Sending,
  start: Start,
  tell: (part: Partial<Sending>) => void,
): Promise<Upload> {
  const { signal } = s.stop;
  let upload = await begin(s, start);
  tell({ id: upload.id, received: upload.received });
  let size = smallest;
  for (let tries = 0; upload.received < upload.size || !upload.type; ) {
    if (signal.aborted) throw new DOMException("stopped", "AbortError");
    const from = upload.received;
    const started = performance.now();
    try {
      upload = await piece(upload, s.file.slice(from, from + size), signal);
      tries = 0;
      // Large pieces are quicker, small ones tell more of the progress.
      size = performance.now() - started < 700 ? Math.min(size * 2, largest) : Math.max(size / 2, smallest);
      tell({ received: upload.received, state: "sending" });
    } catch (e) {
      if (signal.aborted || (e instanceof Problem && e.status > 0 && e.status !== 409 && e.status < 500))
        throw e;
      if (++tries >= patience) throw e;
      tell({ state: "stopped" });
      await new Promise((done) => setTimeout(done, 400 * 2 ** tries));
      upload = await ask(upload).catch(() => upload);
    }
  }
  save(memory(s.file), undefined);
  return upload;
}

async function begin(s: Sending, start: Start): Promise<Upload> {
  const known = s.id || load(memory(s.file), "");
  if (known) {
    try {
      return await take(api.GET("/api/shop/uploads/{upload}", { params: { path: { upload: known } } }));
    } catch (e) {
      if (!(e instanceof Problem) || e.status !== 404) throw e;
    }
  }
  const upload = await start(s.file.name.replace(/[/\\]/g, "_"), s.file.size);
  save(memory(s.file), upload.id);
  return upload;
}

const ask = (u: Upload) =>
  take(api.GET("/api/shop/uploads/{upload}", { params: { path: { upload: u.id } } }));

// piece sends bytes as they are, which the generated client does not.
async function piece(u: Upload, bytes: Blob, signal: AbortSignal): Promise<Upload> {
  const call = fetch(`${home}/api/shop/uploads/${u.id}`, {
    method: "PATCH",
    signal,
    headers: {
      "Content-Type": "application/octet-stream",
      "Upload-Offset": String(u.received),
      "Accept-Language": i18next.language,
    },
    body: bytes,
  }).then(async (response) => {
    const body = await response.json().catch(() => undefined);
    return response.ok ? { data: body as Upload, response } : { error: body, response };
  });
  return take(call);
}

// forget takes an upload away at the server too; one that an order has stays.
export function forget(id: string | undefined, file?: File) {
  if (file) save(memory(file), undefined);
  if (id) api.DELETE("/api/shop/uploads/{upload}", { params: { path: { upload: id } } }).catch(() => {});
}
