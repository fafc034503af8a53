import { Fragment } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "./api/client";
import { day, local } from "./format";
import "./mail.css";

type Props = { mails: Schemas["Message"][]; zone: string; today: string };

// MailList shows mails and text messages as those who get them read them.
export function MailList({ mails, zone, today }: Props) {
  const { t } = useTranslation();
  return mails.map((m) => {
    const at = local(m.written, zone);
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
  });
}
