import { Button, Checkbox, Input, Select } from "antd";
import { useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useSearchParams } from "react-router";
import { Problem } from "../../shared/api/client";
import { Drop } from "../../shared/Drop";
import { size } from "../../shared/handover/types";
import { Labelled } from "../../shared/Labelled";
import { SendingRow } from "../../shared/questions/files/Rows";
import { Trouble } from "../../shared/Trouble";
import { Group } from "./Group";
import { Scan } from "./Scan";
import { useHandOver } from "./useHandOver";
import "../../shared/handover/handover.css";

// HandOver hands many finished files over at once: each finds its order by its name, by
// a pattern or by a scanned label, is shown there before it goes, and can be put
// elsewhere.
export function HandOver() {
  const { t } = useTranslation();
  const [params] = useSearchParams();
  const wanted = useMemo(() => (params.get("lines") ?? "").split(",").map(Number).filter(Boolean), [params]);
  const [pattern, setPattern] = useState("");
  const [message, setMessage] = useState("");
  const [finish, setFinish] = useState(true);
  const h = useHandOver(wanted, { pattern, message, finish });
  const options = [...h.lines.values()].map((l) => ({
    value: l.line,
    label: `${l.number} · ${l.customer} · ${l.title}`,
  }));
  const count = h.ready.reduce((n, g) => n + g.files.length, 0);
  const done = [...h.given.values()].filter((g) => g.state === "given").length;
  return (
    <main className="desk-page wide hand-over">
      <div className="row">
        <h1>{t("Hand over")}</h1>
        <span className="grow" />
        <Link to="/work">{t("Work")}</Link>
      </div>
      <div className="hand-over-columns">
        <div className="stack">
          <Drop
            wording={t("Finished files")}
            most={1000}
            add={(list) => h.begin([...(list ?? [])])}
            button={h.files.length + h.sending.length === 0 ? t("Choose finished files") : undefined}
          >
            {t("or drop them here: each finds its order by its name")}
          </Drop>
          <Trouble error={h.problem} />
          {h.sending.length > 0 && (
            <section className="stack" aria-label={t("On their way")}>
              <Progress files={h.files.length} sending={h.sending} />
              {h.sending.slice(0, 6).map((s) => (
                <SendingRow key={s.key} s={s} again={() => h.again(s)} cancel={() => h.cancel(s)} />
              ))}
              {h.sending.length > 6 && (
                <div className="small quiet">{t("and {{count}} more", { count: h.sending.length - 6 })}</div>
              )}
            </section>
          )}
          {h.loose.length > 0 && (
            <section className="sheet stack">
              <h2>{t("{{count}} files without an order", { count: h.loose.length })}</h2>
              {h.loose.map((f) => {
                const found = h.fits(f);
                return (
                  <div key={f.id} className="row loose-file">
                    <span className="grow file-name">{f.name}</span>
                    {found.length > 1 && (
                      <span className="mark attention">
                        {t("fits {{count}} orders", { count: found.length })}
                      </span>
                    )}
                    <Select
                      className="choose-order"
                      aria-label={t("Order of {{what}}", { what: f.name })}
                      placeholder={t("choose an order")}
                      showSearch={{ optionFilterProp: "label" }}
                      value={null}
                      onChange={(line: number) => h.move(f, line)}
                      options={found.length > 1 ? options.filter((o) => found.includes(o.value)) : options}
                    />
                    <Button
                      size="small"
                      aria-label={t("Take {{what}} away", { what: f.name })}
                      onClick={() => h.drop(f)}
                    >
                      ×
                    </Button>
                  </div>
                );
              })}
            </section>
          )}
          {h.groups.map((g) => (
            <Group
              key={g.line.line}
              line={g.line}
              files={g.files}
              by={h.by}
              how={h.howOf(g.line)}
              set={(how) => h.setHow(g.line, how)}
              given={h.given.get(g.line.line)}
              loose={h.loose.length}
              take={() => {
                for (const f of h.loose) h.move(f, g.line.line);
              }}
              out={(f) => h.move(f, 0)}
            />
          ))}
          {h.groups.length === 0 && h.loose.length === 0 && h.sending.length === 0 && (
            <div className="empty">
              {t(
                "Drop the finished files of as many orders as you like. A file finds its order by the order’s number in its name, by the name of the file that the customer sent, or by the customer’s name.",
              )}
            </div>
          )}
        </div>
        <aside className="stack">
          <Scan scan={h.scan} />
          <Labelled
            id="pattern"
            wording={t("How the files are named")}
            help={t("For example {{pattern}}. Empty: by number and names.", {
              pattern: "{{order}}-{{part}}-{{number}}",
            })}
            fault={h.problem instanceof Problem ? h.problem.of("pattern") : undefined}
          >
            <Input id="pattern" value={pattern} onChange={(e) => setPattern(e.target.value)} />
          </Labelled>
          <Labelled id="message-all" wording={t("Message")} help={t("Empty: what each product says.")}>
            <Input.TextArea
              id="message-all"
              rows={4}
              maxLength={5000}
              value={message}
              onChange={(e) => setMessage(e.target.value)}
            />
          </Labelled>
          <Checkbox checked={finish} onChange={(e) => setFinish(e.target.checked)}>
            {t("Mark the work done too")}
          </Checkbox>
          <Button
            type="primary"
            size="large"
            loading={h.going}
            disabled={count === 0 || h.sending.length > 0}
            onClick={h.handOver}
          >
            {t("Hand over {{count}} files", { count })}
          </Button>
          {count > 0 && (
            <div className="small quiet">
              {t("to {{count}} orders; each customer is told by mail", { count: h.ready.length })}
            </div>
          )}
          {done > 0 && (
            <div className="notice good" role="status">
              {t("Handed over: {{count}} orders", { count: done })}
            </div>
          )}
        </aside>
      </div>
    </main>
  );
}

// Progress is how far all files together are.
function Progress({
  files,
  sending,
}: {
  files: number;
  sending: { received: number; file: File; state: string }[];
}) {
  const { t } = useTranslation();
  const all = sending.reduce((n, s) => n + s.file.size, 0);
  const here = sending.reduce((n, s) => n + s.received, 0);
  return (
    <div className="row file-progress">
      <progress max={Math.max(all, 1)} value={here} aria-label={t("On their way")} />
      <span className="small quiet num">
        {t("{{here}} of {{all}}", { here: size(here), all: size(all) })} ·{" "}
        {t("{{count}} files are here", { count: files })}
      </span>
    </div>
  );
}
