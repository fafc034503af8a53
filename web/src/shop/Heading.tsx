import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";

// Heading says which of the steps of the checkout this is.
export function Heading({ at, of = 2, children }: { at: number; of?: number; children: ReactNode }) {
  const { t } = useTranslation();
  return (
    <div>
      <span className="quiet small num">{t("Step {{at}} of {{of}}", { at, of })}</span>
      <h1>{children}</h1>
    </div>
  );
}
