import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";

// Parts leads to the parts of a docket, which all stand in one scroll.
export function Parts({ d }: { d: Schemas["Docket"] }) {
  const { t } = useTranslation();
  const unread = d.talk?.filter((m) => m.customer && !m.read).length ?? 0;
  const parts: [string, string, number?][] = [
    ["docket-brief", t("Brief")],
    ["docket-work", t("Work")],
    ["messages", t("Messages"), unread],
    ...(d.money.ledger.length > 0 ? [["docket-money", t("Money")] as [string, string]] : []),
    ["docket-documents", t("Documents")],
    ["docket-happened", t("What happened")],
  ];
  return (
    <nav className="docket-parts small" aria-label={t("Parts of the docket")}>
      {parts.map(([id, name, count]) => (
        <button key={id} type="button" className="linkish" onClick={() => lead(id)}>
          {name}
          {count ? <span className="count">{count}</span> : null}
        </button>
      ))}
    </nav>
  );
}

function lead(id: string) {
  const part = document.getElementById(id);
  part?.scrollIntoView({ block: "start" });
  const head = part?.matches("h3") ? part : part?.querySelector<HTMLElement>("h3");
  head?.setAttribute("tabindex", "-1");
  head?.focus({ preventScroll: true });
}
