import { Modal } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../api/client";
import { money } from "../format";
import { Slip } from "./Slip";

type Props = {
  change: Schemas["PriceChange"];
  busy: boolean;
  agree: () => void;
  leave: () => void;
  // at the desk it is the customer who pays
  desk?: boolean;
};

// PriceDialog shows what a changed answer makes of the price, before it is agreed to.
export function PriceDialog({ change, busy, agree, leave, desk }: Props) {
  const { t } = useTranslation();
  const { before, after, open, overpaid } = change;
  const amount = (n: number) => money(n, after.currency);
  const more = after.total - before.total;
  return (
    <Modal
      open
      title={
        more > 0
          ? t("This costs {{amount}} more", { amount: amount(more) })
          : t("This costs {{amount}} less", { amount: amount(-more) })
      }
      okText={t("Agree and save")}
      okButtonProps={{ loading: busy }}
      cancelText={t("Leave it as it was")}
      onOk={agree}
      onCancel={leave}
    >
      <p>
        {t("It was {{before}}, and is {{after}} then.", {
          before: amount(before.total),
          after: amount(after.total),
        })}{" "}
        {open > 0 &&
          (desk
            ? t("{{amount}} are to be paid by the customer then.", { amount: amount(open) })
            : t("{{amount}} are to be paid afterwards, here on this page.", { amount: amount(open) }))}
        {overpaid > 0 &&
          (desk
            ? t("{{amount}} that were paid too much go back to the customer.", { amount: amount(overpaid) })
            : t("{{amount}} that you paid too much go back to you.", { amount: amount(overpaid) }))}
      </p>
      <Slip slip={after} title={t("Slip then")} />
    </Modal>
  );
}
