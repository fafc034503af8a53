import { useState } from "react";
import { Problem } from "../api/client";
import type { Start, Upload } from "../questions/files/sending";
import { forget } from "../questions/files/sending";
import { useSending } from "../questions/files/useSending";
import { useChange } from "../useChange";
import { useKept } from "../useKept";

type Draft = { text: string; files: Upload[] };

// useDraft is a message that is being written: its text and its files are kept in the
// browser until it is sent.
export function useDraft(
  memory: string,
  start: Start,
  write: (m: { text: string; files: string[] }) => Promise<unknown>,
) {
  const [draft, setDraft] = useKept<Draft>(memory, { text: "", files: [] });
  const [sent, setSent] = useState(0);
  const { sending, begin, again, cancel } = useSending(start, (u) =>
    setDraft((old) => (old.files.some((f) => f.id === u.id) ? old : { ...old, files: [...old.files, u] })),
  );
  const change = useChange({
    once: true,
    send: () => write({ text: draft.text, files: draft.files.map((f) => f.id) }),
    done: () => {
      setDraft({ text: "", files: [] });
      setSent((n) => n + 1);
    },
  });
  const { problem } = change;
  return {
    text: draft.text,
    setText: (text: string) => setDraft((old) => ({ ...old, text })),
    files: draft.files,
    drop: (f: Upload) => {
      setDraft((old) => ({ ...old, files: old.files.filter((x) => x.id !== f.id) }));
      forget(f.id);
    },
    sending,
    begin,
    again,
    cancel,
    send: () => change.send(),
    sent,
    busy: change.busy,
    // what is wrong besides the text
    problem: problem instanceof Problem && problem.of("text") ? undefined : problem,
    of: change.of,
  };
}
