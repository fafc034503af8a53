import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { AskChange } from "./AskChange";
import type { Brief } from "./useBrief";

type Props = { line: Schemas["OrderLine"]; link: string; brief: Brief };

// Unsent offers what was typed before the answers were closed to be asked for, so that
// nothing of it is lost.
export function Unsent({ line, link, brief }: Props) {
  const { t } = useTranslation();
  const left = line.page.questions.filter((q) => brief.unsent.includes(q.key));
  if (line.brief !== "closed" || left.length === 0) return null;
  return (
    <section className="notice attention stack" aria-label={t("Not sent")}>
      <strong>
        {t("The answers were closed before this was sent. You can ask for it, or leave it as it was.")}
      </strong>
      {left.map((q) => (
        <AskChange
          key={q.key}
          q={q}
          line={line}
          link={link}
          begin={brief.value(q.key)}
          close={() => brief.forget(q.key)}
        />
      ))}
    </section>
  );
}
