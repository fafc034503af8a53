import { useQuery } from "@tanstack/react-query";
import { useTranslation } from "react-i18next";
import { api, take } from "../../shared/api/client";
import { lost } from "../../shared/lost";
import { MailList } from "../../shared/MailList";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";

// Outbox shows the messages that the simulated services were given.
export function Outbox() {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const mails = useQuery({
    queryKey: ["outbox"],
    queryFn: () => take(api.GET("/api/desk/outbox")),
    refetchInterval: 5_000,
  });
  if (lost(mails)) return <Trouble error={mails.error} again={() => mails.refetch()} />;
  return (
    <main className="desk-page">
      <div className="row">
        <h1>{t("Outbox")}</h1>
        <span className="quiet">
          {t("Mail and text messages are simulated: nothing leaves this machine.")}
        </span>
      </div>
      {mails.data?.length === 0 && <div className="empty">{t("Messages to customers will be here.")}</div>}
      {mails.data && <MailList mails={mails.data} zone={session.zone} today={today} />}
    </main>
  );
}
