import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { Html } from "../../shared/Html";
import { home } from "../../shared/home";
import { Strokes } from "../../shared/questions/signature/Strokes";
import "../../shared/questions/questions.css";

type Props = { line: number; a: Schemas["DocketAnswer"]; small?: boolean };

// Evidence shows what an answer consists of besides its words: files to save,
// a drawn signature, the text that was signed or agreed to.
export function Evidence({ line, a, small }: Props) {
  const { t } = useTranslation();
  return (
    <>
      {a.files && <Files line={line} files={a.files} small={small} />}
      {a.strokes && <Strokes strokes={a.strokes} label={a.wording} />}
      {a.document && !small && (
        <details className="signed-text small">
          <summary>{t("Read the text again")}</summary>
          <Html html={a.document} />
        </details>
      )}
    </>
  );
}

type FilesProps = { line: number; files: Schemas["AnswerFile"][]; small?: boolean };

// Files shows files that came with an order, to be saved.
export function Files({ line, files, small }: FilesProps) {
  const { t } = useTranslation();
  return (
    <span className="proofs">
      {files.map((f) => {
        const at = `${home}/api/desk/dockets/${line}/files/${f.file}`;
        return (
          <span key={f.file} className="proof">
            <a href={at} download={f.name} title={f.caption || f.name}>
              {f.picture ? (
                <img src={`${at}?as=thumbnail`} alt={f.caption || f.name} />
              ) : (
                <span className="thumb none" aria-hidden="true" />
              )}
              {!small && <span className="small">{size(f.size)}</span>}
            </a>
            {f.cropped && !small && (
              <a className="small" href={`${at}?as=cropped`} download>
                {t("cropped")}
              </a>
            )}
          </span>
        );
      })}
    </span>
  );
}

// size writes a number of bytes in round numbers: "2.4 MB".
function size(bytes: number) {
  if (bytes < 1_000_000) return `${Math.max(1, Math.round(bytes / 1000))} kB`;
  return `${(bytes / 1_000_000).toFixed(1)} MB`;
}
