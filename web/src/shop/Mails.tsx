import { useQuery } from "@tanstack/react-query";
import { useTranslation } from "react-i18next";
import { api, take } from "../shared/api/client";
import { lost } from "../shared/lost";
import { MailList } from "../shared/MailList";
import { useRehearsal } from "../shared/rehearsal/useRehearsal";
import { Trouble } from "../shared/Trouble";
import { useShop } from "./App";

// Mails is the tray of a rehearsal: what it wrote to customer and seller.
export function Mails() {
  const { t } = useTranslation();
  const shop = useShop();
  const rehearsal = useRehearsal();
  const mails = useQuery({
    queryKey: ["mails"],
    queryFn: () => take(api.GET("/api/shop/rehearsal/mails")),
    refetchInterval: 3_000,
  });
  if (lost(mails)) return <Trouble error={mails.error} again={() => mails.refetch()} />;
  return (
    <div className="narrow">
      <h1>{t("Mails")}</h1>
      <p className="quiet">
        {t("What this rehearsal wrote, to the customer and to you. None of it leaves this tray.")}
      </p>
      {mails.data?.length === 0 && (
        <div className="empty">{t("Order something, and the first mail will be here.")}</div>
      )}
      {mails.data && rehearsal.data && shop.data && (
        <MailList mails={mails.data} zone={shop.data.zone} today={rehearsal.data.day} />
      )}
    </div>
  );
}
