import { Button, Checkbox, Input, Modal } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, local, span } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";
import { workLists } from "../work/useDecide";

// Promised says by which day the order line was promised, why, and whether that holds.
export function Promised({ d }: { d: Schemas["Docket"] }) {
  const { t } = useTranslation();
  const { today, session } = useHere();
  const [open, setOpen] = useState(false);
  const p = d.promise;
  return (
    <>
      <strong>{d.promised ? day(d.promised, today) : t("no day yet")}</strong>
      {d.days_left !== undefined && d.days_left > 0 && (
        <div className="small quiet">{t("in {{count}} working days", { count: d.days_left })}</div>
      )}
      {p?.foreseen && (
        <div className={p.late ? "small over" : "small quiet"}>
          {p.late ? "▲ " : ""}
          {t("done {{when}}", { when: p.foreseen === today ? t("today") : day(p.foreseen, today) })}
        </div>
      )}
      {d.promised && d.cancelled === undefined && (
        <button type="button" className="linkish small" onClick={() => setOpen(true)}>
          {t("Why, or another day")}
        </button>
      )}
      {open && p && (
        <Modal
          open
          title={t("Promised {{when}}", { when: day(d.promised ?? "", today) })}
          footer={null}
          onCancel={() => setOpen(false)}
        >
          <ul className="promise-why">
            <li>
              {p.author
                ? t("{{who}} put it to that day, {{when}}.", {
                    who: p.author,
                    when: day(local(p.made, session.zone).day, today),
                  })
                : t("Found {{when}}.", { when: day(local(p.made, session.zone).day, today) })}
            </li>
            {!p.author && (
              <>
                <li>{t("{{ahead}} of work waited before it.", { ahead: span(p.ahead) })}</li>
                <li>{t("Its own work takes {{own}}.", { own: span(p.own) })}</li>
                {p.slack > 0 && <li>{t("{{count}} working days of slack on top.", { count: p.slack })}</li>}
                {p.rush && <li>{t("It goes before all others.")}</li>}
                {p.later.length > 0 && (
                  <li className="over">
                    {t("It makes these late: {{list}}.", { list: p.later.join(", ") })}
                  </li>
                )}
              </>
            )}
          </ul>
          <AnotherDay d={d} close={() => setOpen(false)} />
        </Modal>
      )}
    </>
  );
}

// AnotherDay promises another day, and writes that to the customer.
function AnotherDay({ d, close }: { d: Schemas["Docket"]; close: () => void }) {
  const { t } = useTranslation();
  const [v, setV] = useState({ day: d.promised ?? "", tell: true, word: "" });
  const put = useChange({
    once: true,
    send: () =>
      take(
        api.PUT("/api/desk/dockets/{line}/promise", {
          params: { path: { line: d.line } },
          body: { day: v.day, tell: v.tell, word: v.tell ? v.word || undefined : undefined },
        }),
      ),
    refreshes: workLists,
    done: close,
  });
  return (
    <div className="stack">
      <Labelled id="promise-day" wording={t("Promise another day")} fault={put.of("day")}>
        <input
          id="promise-day"
          type="date"
          className="plain-field"
          value={v.day}
          onChange={(e) => setV({ ...v, day: e.target.value })}
        />
      </Labelled>
      <Checkbox checked={v.tell} onChange={(e) => setV({ ...v, tell: e.target.checked })}>
        {t("Write to {{who}}", { who: d.customer })}
      </Checkbox>
      {v.tell && (
        <Input.TextArea
          aria-label={t("A word with it")}
          placeholder={t("A word with it")}
          value={v.word}
          maxLength={2000}
          onChange={(e) => setV({ ...v, word: e.target.value })}
        />
      )}
      <Trouble error={put.problem} />
      <Button type="primary" loading={put.busy} disabled={v.day === d.promised} onClick={() => put.send()}>
        {t("Promise it")}
      </Button>
    </div>
  );
}
