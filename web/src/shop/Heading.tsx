import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";

// Heading says which of the two steps of the checkout this is.
export function Heading({ at, children }: { at: number; children: ReactNode }) {
  const { t } = useTranslation();
  return (
    <div>
      <span className="quiet small num">{t("Step {{at}} of {{of}}", { at, of: 2 })}</span>
      <h1>{children}</h1>
    </div>
  );
}
