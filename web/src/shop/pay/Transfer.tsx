import { Button, QRCode } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { money } from "../../shared/format";

type Props = { transfer: Schemas["Transfer"]; currency: string; alone?: boolean };

// Transfer says how what is due is paid by bank transfer: to which account, with
// which reference, and as a code that banking apps scan. Alone it is what the customer
// chose, and stands open.
export function Transfer({ transfer: f, currency, alone }: Props) {
  const { t } = useTranslation();
  const rows = [
    { name: t("To"), value: f.holder },
    { name: t("Account (IBAN)"), value: f.iban },
    ...(f.bic ? [{ name: t("Bank (BIC)"), value: f.bic }] : []),
    { name: t("Amount"), value: money(f.amount, currency) },
    { name: t("Reference"), value: f.reference },
  ];
  return (
    <details className="transfer" open={alone}>
      <summary>{alone ? t("How to transfer it") : t("Or by bank transfer")}</summary>
      <div className="transfer-how">
        <dl>
          {rows.map((r) => (
            <div key={r.name} className="row">
              <dt className="quiet">{r.name}</dt>
              <dd className="grow num">{r.value}</dd>
              <Copy name={r.name} text={r.value} />
            </div>
          ))}
        </dl>
        {f.code && (
          <figure>
            <QRCode value={f.code} type="svg" errorLevel="M" size={168} bordered={false} />
            <figcaption className="small quiet">{t("Scan it with your banking app.")}</figcaption>
          </figure>
        )}
      </div>
      {f.note && <p className="small">{f.note}</p>}
      <p className="small quiet">
        {t("Give the reference, so that we know your transfer. It is noted here once it came in.")}
      </p>
    </details>
  );
}

function Copy({ name, text }: { name: string; text: string }) {
  const { t } = useTranslation();
  const [done, setDone] = useState(false);
  return (
    <Button
      size="small"
      onClick={() =>
        navigator.clipboard
          ?.writeText(text.replaceAll(/\s/g, " "))
          .then(() => setDone(true))
          .catch(() => undefined)
      }
    >
      {done ? t("copied") : t("copy")}
      <span className="sr"> {name}</span>
    </Button>
  );
}
