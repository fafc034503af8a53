import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { away, local } from "../../shared/format";
import { useHere } from "../here";

// Answer shows how an answer reads, what it read before, and copies it; where
// it has to be brief, only texts copy.
export function Answer({ a, brief }: { a: Schemas["DocketAnswer"]; brief?: boolean }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const half = a.half && <Half half={a.half} />;
  if (a.words === "") {
    return (
      <>
        {a.missing ? (
          <span className="mark bad">○ {t("not answered")}</span>
        ) : (
          !half && <span className="quiet">–</span>
        )}{" "}
        {half}
      </>
    );
  }
  return (
    <>
      {a.old !== undefined && (
        <>
          <del>{a.old}</del> →{" "}
        </>
      )}
      {a.colour && (
        <svg className="dot" viewBox="0 0 14 14" aria-hidden="true">
          <circle cx="7" cy="7" r="6.5" fill={a.colour} />
        </svg>
      )}
      <span className={a.old !== undefined ? "answer-words changed" : "answer-words"}>{a.words}</span>{" "}
      {a.changed && (
        <span className="mark attention">
          ▲{" "}
          {t("changed {{when}}", {
            when: `${away(local(a.changed, session.zone).day, today)} ${local(a.changed, session.zone).time}`,
          })}
        </span>
      )}{" "}
      {(!brief || a.kind.endsWith("_text")) && <Copy text={a.words} what={a.wording} />} {half}
    </>
  );
}

// Half is what the customer said and is no answer yet.
function Half({ half }: { half: Schemas["HalfSaid"] }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const at = local(half.at, session.zone);
  const when = `${away(at.day, today)} ${at.time}`;
  return (
    <span className="small quiet">
      {half.unknown
        ? t("said {{when}}: not known yet", { when })
        : half.words
          ? t("typed {{when}}, does not count yet: {{words}}", { when, words: half.words })
          : t("begun {{when}}, does not count yet", { when })}
    </span>
  );
}

function Copy({ text, what }: { text: string; what: string }) {
  const { t } = useTranslation();
  const [done, setDone] = useState(false);
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
    } catch {
      // Without permission the old way still works.
      const area = document.createElement("textarea");
      area.value = text;
      document.body.append(area);
      area.select();
      document.execCommand("copy");
      area.remove();
    }
    setDone(true);
    setTimeout(() => setDone(false), 1500);
  };
  return (
    <button type="button" className="linkish small copy" onClick={copy} aria-live="polite">
      {done ? t("copied") : t("copy")}
      <span className="sr"> {what}</span>
    </button>
  );
}
