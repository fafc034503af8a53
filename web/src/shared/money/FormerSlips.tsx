import { useTranslation } from "react-i18next";
import type { Schemas } from "../api/client";
import { day, local, money } from "../format";
import { Slip } from "../slip/Slip";

type Props = { slips: Schemas["FormerSlip"][] | undefined; zone: string; today: string };

// FormerSlips keeps what an order cost before an answer changed its price.
export function FormerSlips({ slips, zone, today }: Props) {
  const { t } = useTranslation();
  if (!slips || slips.length === 0) return null;
  return slips.map((f) => {
    const at = local(f.until, zone);
    return (
      <details key={f.until} className="small">
        <summary>
          {t("Until {{when}} it cost {{amount}}", {
            when: `${day(at.day, today)}, ${at.time}`,
            amount: money(f.slip.total, f.slip.currency),
          })}
        </summary>
        <Slip slip={f.slip} title={t("Slip until then")} />
      </details>
    );
  });
}
