import { Button, Spin } from "antd";
import { useTranslation } from "react-i18next";

type Asks = { total: string; busy: boolean; confirm: (approve: boolean) => void };

// BankAsks is the question of the customer's bank.
export function BankAsks({ total, busy, confirm }: Asks) {
  const { t } = useTranslation();
  return (
    <section className="sheet stack bank">
      <h2>{t("Your bank asks")}</h2>
      <p>{t("Do you want to pay {{total}}? This is the simulated bank that ships with Ruvo.", { total })}</p>
      <div className="row">
        <Button type="primary" size="large" loading={busy} onClick={() => confirm(true)}>
          {t("Yes, pay {{total}}", { total })}
        </Button>
        <Button size="large" disabled={busy} onClick={() => confirm(false)}>
          {t("No, do not pay")}
        </Button>
      </div>
    </section>
  );
}

// BankSilent says that the bank has not answered yet.
export function BankSilent() {
  const { t } = useTranslation();
  return (
    <div className="notice attention row" role="status">
      <Spin size="small" />
      <span className="grow">
        {t(
          "Your bank has not answered yet. We ask again by ourselves and write to you; there is no need to pay again, and you can close this page.",
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
