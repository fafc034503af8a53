import { useTranslation } from "react-i18next";
import type { Schemas } from "../shared/api/client";

// CancelTerms says beside the total what comes back when something is
// cancelled.
export function CancelTerms({ sets }: { sets: Schemas["CancelRules"][] | undefined }) {
  const { t } = useTranslation();
  const told = sets?.filter((s) => s.rules.length > 0) ?? [];
  if (told.length === 0) return null;
  const several = (sets?.length ?? 0) > 1;
  return (
    <section className="cancel-terms small" aria-label={t("If you cancel")}>
      <h3>{t("If you cancel")}</h3>
      {told.map((s) => (
        <div key={s.titles.join()}>
          {several && <b>{s.titles.join(", ")}</b>}
          <ul>
            {s.rules.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  );
}
