import { useTranslation } from "react-i18next";

export function Money() {
  const { t } = useTranslation();
  return (
    <main className="desk-page">
      <h1>{t("Money")}</h1>
      <div className="empty">
        {t(
          "What is paid, held and due will be here, what customers chose to give, coupons, tax, and exports. Until then each order's slip shows what was paid.",
        )}
      </div>
    </main>
  );
}
