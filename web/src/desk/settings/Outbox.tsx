import { useQuery } from "@tanstack/react-query";
import { Fragment } from "react";
import { useTranslation } from "react-i18next";
import { api, take } from "../../shared/api/client";
import { day, local } from "../../shared/format";
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
  if (mails.error) return <Trouble error={mails.error} again={() => mails.refetch()} />;
  return (
    <main className="desk-page">
      <div className="row">
        <h1>{t("Outbox")}</h1>
        <span className="quiet">
          {t("Mail and text messages are simulated: nothing leaves this machine.")}
        </span>
      </div>
      {mails.data?.length === 0 && <div className="empty">{t("Messages to customers will be here.")}</div>}
      {mails.data?.map((m) => {
        const at = local(m.written, session.zone);
        return (
          <details key={m.id} className="mail sheet">
            <summary className="row">
              <span className="num quiet small">
                {day(at.day, today)} {at.time}
              </span>
              <span>{m.to}</span>
              <strong className="grow">{m.way === "text" ? t("Text message") : m.subject}</strong>
              <span className={m.sent ? "mark good" : "mark attention"}>
                {m.sent ? `● ${t("sent")}` : `○ ${t("waits")}`}
              </span>
            </summary>
            <pre>
              {m.body.split(/(https?:\/\/\S+)/).map((part, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: parts of a text that never changes
                <Fragment key={i}>{/^https?:\/\//.test(part) ? <a href={part}>{part}</a> : part}</Fragment>
              ))}
            </pre>
          </details>
        );
      })}
    </main>
  );
}
