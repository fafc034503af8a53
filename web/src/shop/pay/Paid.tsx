import { useTranslation } from "react-i18next";
import { Navigate } from "react-router";
import { load } from "../../shared/kept";
import { payingKey } from "../keep";

// Paid is where the payment service leads back to from the payment of an order:
// on to its page, whose private link the service is not told.
export function Paid() {
  const { t } = useTranslation();
  const link = load(payingKey, "");
  if (link) return <Navigate to={`/o/${link}?back`} replace />;
  return (
    <div className="narrow stack">
      <h1>{t("Your order")}</h1>
      <p>
        {t("Your order page says what became of the payment. The link to it is in the mail we sent you.")}
      </p>
    </div>
  );
}
