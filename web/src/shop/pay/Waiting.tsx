import { Button, Spin } from "antd";
import { useTranslation } from "react-i18next";

type Waits = { page?: string; total: string; busy: boolean; leave: () => void };

// Open says that a payment waits on the payment service's page: the customer
// closed it, or came back by another way.
export function Open({ page, total, busy, leave }: Waits) {
  const { t } = useTranslation();
  return (
    <section className="sheet stack" aria-label={t("Your payment is not finished")}>
      <h2>{t("Your payment is not finished")}</h2>
      <p>{t("{{total}} wait on the page of the payment service. Nothing is paid yet.", { total })}</p>
      <div className="row">
        <Button type="primary" size="large" href={page} disabled={!page}>
          {t("Go on to the payment")}
        </Button>
        <Button size="large" loading={busy} onClick={leave}>
          {t("Do not pay this way")}
        </Button>
      </div>
    </section>
  );
}

// Silent says that the payment service has not answered yet.
export function Silent() {
  const { t } = useTranslation();
  return (
    <div className="notice attention row" role="status">
      <Spin size="small" />
      <span className="grow">
        {t(
          "The payment service has not answered yet. We ask again by ourselves and write to you; there is no need to pay again, and you can close this page.",
        )}
      </span>
    </div>
  );
}

// Refused says why nothing was paid.
export function Refused({ reason }: { reason?: string }) {
  return (
    <div className="notice bad" role="alert">
      {reason}
    </div>
  );
}
