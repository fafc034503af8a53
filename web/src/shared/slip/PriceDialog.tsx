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
};

// PriceDialog shows what a changed answer makes of the price, before the
// customer agrees to it.
export function PriceDialog({ change, busy, agree, leave }: Props) {
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
        {open > 0 && t("{{amount}} are to be paid afterwards, here on this page.", { amount: amount(open) })}
        {overpaid > 0 && t("{{amount}} that you paid too much go back to you.", { amount: amount(overpaid) })}
      </p>
      <Slip slip={after} title={t("Slip then")} />
    </Modal>
  );
}
