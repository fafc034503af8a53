import { useTranslation } from "react-i18next";
import type { Schemas } from "../shared/api/client";
import { Html } from "../shared/Html";

type Props = { pages: (Schemas["ProductPage"] | undefined)[] };

// Promises says how what is bought reaches the customer, and what may be done with it.
export function Promises({ pages }: Props) {
  const { t } = useTranslation();
  const told = pages.flatMap((p) => (p && (p.reaches || p.licence) ? [p] : []));
  const once = told.filter((p, i) => told.findIndex((x) => x.slug === p.slug) === i);
  if (once.length === 0) return null;
  return (
    <section className="promises small" aria-label={t("How it reaches you")}>
      {once.map((p) => (
        <div key={p.slug}>
          {p.reaches && (
            <p>
              {once.length > 1 && <b>{p.title}: </b>}
              {p.reaches}
            </p>
          )}
          {p.licence && (
            <details>
              <summary>
                {once.length > 1
                  ? t("What you may do with it: {{title}}", { title: p.title })
                  : t("What you may do with it")}
              </summary>
              <Html html={p.licence} />
            </details>
          )}
        </div>
      ))}
    </section>
  );
}
