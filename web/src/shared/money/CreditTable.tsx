import { useTranslation } from "react-i18next";
import type { Schemas } from "../api/client";
import { money, plain } from "../format";
import "./credit.css";

type Props = { preview: Schemas["MovePreview"]; currency: string; cancelling?: boolean };

// CreditTable shows what something would come to: by line, by tax, and what
// then goes back or stays open.
export function CreditTable({ preview: p, currency, cancelling }: Props) {
  const { t } = useTranslation();
  const amount = (n: number) => money(n, currency);
  return (
    <section className="credit" aria-label={t("What it comes to")}>
      {p.lines.map((l) => (
        <div key={l.line ?? 0}>
          <div className="slip-line">
            <span>{l.title}</span>
            <i aria-hidden="true" />
            <span className="num">{plain(-l.off, currency)}</span>
          </div>
          {l.words && <div className="slip-why">{l.words}</div>}
        </div>
      ))}
      <div className="slip-line slip-total">
        <span>{t("No longer charged")}</span>
        <i aria-hidden="true" />
        <span className="num">{amount(p.total)}</span>
      </div>
      {p.taxes
        .filter((x) => x.amount !== 0)
        .map((x) => (
          <div className="slip-why" key={x.percent}>
            {t("Tax in it: {{percent}} % of {{net}} is {{amount}}", {
              percent: x.percent,
              net: plain(x.net, currency),
              amount: plain(x.amount, currency),
            })}
          </div>
        ))}
      <ul className="small">
        {p.by_card > 0 && <li>{t("{{amount}} go back to the card.", { amount: amount(p.by_card) })}</li>}
        {p.by_voucher > 0 && (
          <li>{t("{{amount}} go back to the voucher that paid them.", { amount: amount(p.by_voucher) })}</li>
        )}
        {p.otherwise > 0 && (
          <li>
            {t("{{amount}} came in otherwise, and are to be given back by hand.", {
              amount: amount(p.otherwise),
            })}
          </li>
        )}
        {p.held > 0 && <li>{t("{{amount}} of security are given free.", { amount: amount(p.held) })}</li>}
        {p.open > 0 && <li>{t("{{amount}} stay to be paid.", { amount: amount(p.open) })}</li>}
        {cancelling && p.by_card + p.by_voucher + p.otherwise + p.open === 0 && (
          <li>{t("Nothing goes back.")}</li>
        )}
      </ul>
    </section>
  );
}
