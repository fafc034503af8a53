import { useTranslation } from "react-i18next";
import type { Schemas } from "../api/client";
import { money, plain } from "../format";
import "./slip.css";

type Props = {
  slip: Schemas["Slip"];
  // stale says that an answer changed since; the amounts are not its price yet
  stale?: boolean;
  title?: string;
};

// Slip shows the computed price: a narrow column of lines with dotted leaders,
// under each the reason for its amount, a double rule above the total.
export function Slip({ slip, stale, title }: Props) {
  const { t } = useTranslation();
  return (
    <section className={stale ? "slip stale" : "slip"} aria-busy={stale} aria-label={title ?? t("Slip")}>
      {title && <h3>{title}</h3>}
      {slip.lines.map((line, i) => (
        // Lines have no identity of their own; their order is fixed.
        // biome-ignore lint/suspicious/noArrayIndexKey: see above
        <div key={i}>
          <div className="slip-line">
            <span>{line.label}</span>
            <i aria-hidden="true" />
            <span className="num">{plain(line.amount, slip.currency)}</span>
          </div>
          {line.why && <div className="slip-why">{line.why}</div>}
        </div>
      ))}
      <div className="slip-line slip-total">
        <span>{t("Total")}</span>
        <i aria-hidden="true" />
        <span className="num">{stale ? t("computing …") : money(slip.total, slip.currency)}</span>
      </div>
      {slip.taxes
        .filter((x) => x.amount !== 0)
        .map((x) => (
          <div className="slip-why" key={x.percent}>
            {t("Tax included: {{percent}} % of {{net}} is {{amount}}", {
              percent: x.percent,
              net: plain(x.net, slip.currency),
              amount: plain(x.amount, slip.currency),
            })}
          </div>
        ))}
    </section>
  );
}
