import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { day, local } from "../../shared/format";
import { Html } from "../../shared/Html";
import { home } from "../../shared/home";
import { useHere } from "../here";

// Documents has what was agreed to with an order, in the version of the time, and the
// files that came with it.
export function Documents({ d }: { d: Schemas["Docket"] }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const agreed = d.answers.filter((a) => a.document);
  const files = d.answers.some((a) => a.files);
  return (
    <section id="docket-documents" aria-labelledby="docket-documents-head">
      <h3 id="docket-documents-head">{t("Documents")}</h3>
      {!d.terms && agreed.length === 0 && !files && (
        <div className="empty">{t("Nothing was agreed to, and no file came with it.")}</div>
      )}
      {d.terms && (
        <details className="document">
          <summary>
            {t("Terms of sale, version {{version}}", { version: d.terms.version })}{" "}
            <span className="small quiet">
              {t("of {{day}}", { day: day(local(d.terms.since, session.zone).day, today) })}
            </span>
          </summary>
          <Html html={d.terms.html} />
        </details>
      )}
      {agreed.map((a) => (
        <details key={a.key} className="document">
          <summary>
            {a.wording} <span className="small quiet">{a.words}</span>
          </summary>
          <Html html={a.document ?? ""} />
        </details>
      ))}
      {files && (
        <p>
          <a href={`${home}/api/desk/dockets/${d.line}/files.zip`} download>
            {t("Save all files as a zip file")}
          </a>
        </p>
      )}
    </section>
  );
}
