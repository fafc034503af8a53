import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { away, local } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";

// Written is what a customer wrote that nobody answered.
export function Written({ of }: { of: Schemas["TalkOpen"] }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const settle = useChange({
    once: true,
    send: () =>
      take(
        api.POST("/api/desk/dockets/{line}/talk/{what}", {
          params: { path: { line: of.line, what: "settle" } },
        }),
      ),
    refreshes: ["today"],
  });
  const m = of.talk;
  return (
    <div className="today-row">
      <div className="row">
        <Link to={`/orders/${of.line}#messages`}>
          <strong>{of.customer}</strong>
        </Link>
        {!m.read && <span className="mark attention">✎ {t("new message")}</span>}
        <span className="grow" />
        <span className="quiet small">{away(local(m.at, session.zone).day, today)}</span>
      </div>
      <div className="said-words two-lines">
        {m.text || t("{{count}} files", { count: m.files?.length ?? 0 })}
      </div>
      <div className="row small">
        <span className="quiet grow num">
          {of.number}
          {m.about && ` · ${t("about “{{what}}”", { what: m.about })}`}
        </span>
        <Button size="small" loading={settle.busy} onClick={() => settle.send()}>
          {t("Needs no answer")}
        </Button>
      </div>
      <Trouble error={settle.problem} />
    </div>
  );
}

// AsksFor is a change of an answer that a customer asks for.
export function AsksFor({ of }: { of: Schemas["AmendmentOpen"] }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const a = of.amendment;
  return (
    <Link to={`/orders/${of.line}`} className="today-row">
      <div className="row">
        <strong>{of.customer}</strong>
        <span className="mark attention">▲ {t("asks for a change")}</span>
        <span className="grow" />
        <span className="quiet small">{away(local(a.at, session.zone).day, today)}</span>
      </div>
      <div className="small">
        {a.wording}: <del>{a.old}</del> → {a.new}
      </div>
      <div className="quiet small num">{of.number}</div>
    </Link>
  );
}
