import { useTranslation } from "react-i18next";
import { Html } from "../Html";
import { home } from "../home";
import { Strokes } from "./signature/Strokes";
import type { Question } from "./types";

// Proofs shows what an answer consists of besides its words: pictures, a
// drawn signature, the text that was signed or agreed to.
export function Proofs({ q, value, text }: { q: Question; value: unknown; text?: string }) {
  const { t } = useTranslation();
  if (q.kind === "files" && Array.isArray(value)) {
    return (
      <span className="proofs">
        {(value as { file: string; name: string }[]).map((f) => (
          <img
            key={f.file}
            src={`${home}/api/shop/uploads/${f.file}/thumbnail`}
            alt={f.name}
            onError={(e) => {
              e.currentTarget.hidden = true;
            }}
          />
        ))}
      </span>
    );
  }
  const strokes = (value as { strokes?: number[][] } | null)?.strokes;
  return (
    <>
      {strokes && q.kind === "signature" && <Strokes strokes={strokes} label={q.wording} />}
      {text && (q.kind === "signature" || q.kind === "consent") && (
        <details className="signed-text small">
          <summary>{t("Read the text again")}</summary>
          <Html html={text} />
        </details>
      )}
    </>
  );
}
