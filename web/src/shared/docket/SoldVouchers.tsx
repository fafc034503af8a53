import { Typography } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../api/client";
import { day, money } from "../format";

type Props = {
  vouchers: Schemas["SoldVoucher"][];
  currency: string;
  today: string;
  children?: React.ReactNode;
};

// SoldVouchers shows the codes that an order line sold, to be copied or passed
// on, with what is left of each.
export function SoldVouchers({ vouchers, currency, today, children }: Props) {
  const { t } = useTranslation();
  const amount = (n: number) => money(n, currency);
  return (
    <section>
      <h3>{vouchers.length > 1 ? t("Voucher codes") : t("Voucher code")}</h3>
      {vouchers.map((v) => (
        <div key={v.code}>
          <Typography.Text copyable={{ tooltips: [t("Copy the code"), t("Copied")] }} code>
            {v.code}
          </Typography.Text>
          <div className="small quiet">
            {v.blocked
              ? t("blocked")
              : v.rest === v.worth
                ? t("worth {{amount}}", { amount: amount(v.worth) })
                : t("{{rest}} of {{amount}} left", { rest: amount(v.rest), amount: amount(v.worth) })}
            {v.until && `, ${t("good until {{day}}", { day: day(v.until, today) })}`}
          </div>
        </div>
      ))}
      {children && <p className="small">{children}</p>}
    </section>
  );
}
