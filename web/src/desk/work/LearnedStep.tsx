import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { span } from "../../shared/format";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { LateLines } from "./LateLines";
import { Few, minutes } from "./Learned";
import "../money/earnings.css";

type Step = Schemas["LearnedStep"];

// LearnedStep shows what a step really takes, by which answers, and what taking that
// over would change.
export function LearnedStep() {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const { product = "", step = "" } = useParams();
  const path = { product: Number(product), step };
  const view = useQuery({
    queryKey: ["learned", product, step],
    queryFn: () => take(api.GET("/api/desk/learned/{product}/{step}", { params: { path } })),
  });
  const over = useChange({
    once: true,
    send: (version: number) =>
      take(api.POST("/api/desk/learned/{product}/{step}", { params: { path }, body: { version } })),
    refreshes: ["learned", "products"],
    done: (p) => queries.setQueryData(["product", p.id], p),
  });
  if (lost(view)) return <Trouble error={view.error} again={() => view.refetch()} />;
  const s = view.data;
  if (!s) return null;
  const same = s.suggested && JSON.stringify(s.suggested) === JSON.stringify(s.now);
  return (
    <main className="desk-page wide">
      <div className="row">
        <h1>{s.called}</h1>
        <span className="quiet">{s.title}</span>
        <span className="grow" />
        <Link to="/work/learned">{t("All steps")}</Link>
      </div>
      <div className="learned-columns">
        <div className="stack">
          <p>
            {t("{{count}} times measured: half of them took {{from}} to {{to}}, in the middle {{median}}.", {
              count: s.taken.n,
              from: minutes(s.taken.lower),
              to: minutes(s.taken.upper),
              median: minutes(s.taken.median),
            })}{" "}
            {t("Planned were {{median}} in the middle.", { median: minutes(s.planned.median) })}
          </p>
          <table className="what-if-both">
            <thead>
              <tr>
                <th />
                <th scope="col">{t("as planned now")}</th>
                <th scope="col">{t("as learned")}</th>
              </tr>
            </thead>
            <tbody>
              <Figure name={t("Minutes in any case")} now={s.now.fixed} learned={s.suggested?.fixed} />
              <Figure name={t("and for each unit")} now={s.now.unit} learned={s.suggested?.unit} />
              <Figure
                name={t("and for each of what is counted")}
                now={s.now.each}
                learned={s.suggested?.each}
              />
              {choices(s).map((c) => (
                <Figure key={c.name} {...c} />
              ))}
              <tr>
                <th scope="row">{t("Off by, for half of them")}</th>
                <td className="num">{minutes(s.off)}</td>
                <td className="num">{s.suggested ? minutes(s.off_learned) : <Few s={s} />}</td>
              </tr>
            </tbody>
          </table>
          {s.groups.length > 0 && (
            <>
              <h2>{t("Which answers explain it")}</h2>
              {s.groups.map((g) => (
                <div key={g.of}>
                  <strong>{g.wording}</strong>{" "}
                  <span className="small quiet">{t("explains {{n}} %", { n: g.explains })}</span>
                  {g.values.map((v) => (
                    <div key={v.code} className="row small">
                      <span className="grow">{v.label || t("nothing")}</span>
                      <span className="num">
                        {t("{{count}} times, in the middle {{median}}", {
                          count: v.taken.n,
                          median: minutes(v.taken.median),
                        })}
                      </span>
                    </div>
                  ))}
                </div>
              ))}
            </>
          )}
          {s.effect && !same && <Effect e={s.effect} />}
          <Trouble error={over.problem} />
          {over.done ? (
            <div className="notice good" role="status">
              {t("The learned minutes are in the draft. They hold for orders once it is published.")}{" "}
              <Link to={`/products/${product}`}>{t("Look at the draft")}</Link>
            </div>
          ) : s.shared ? (
            <p className="quiet">{t("The step is that of a sheet: change its minutes there.")}</p>
          ) : (
            s.suggested &&
            !same && (
              <div>
                <Button type="primary" loading={over.busy} onClick={() => over.send(s.version)}>
                  {t("Take the learned minutes over")}
                </Button>
              </div>
            )
          )}
        </div>
        <Plot s={s} />
      </div>
    </main>
  );
}

function choices(s: Step) {
  const all = [...(s.now.choices ?? []), ...(s.suggested?.choices ?? [])];
  const names = [...new Set(all.map((c) => `${c.of} ${c.code}`))];
  const of = (m: Step["now"] | undefined, name: string) =>
    m?.choices?.find((c) => `${c.of} ${c.code}` === name)?.minutes;
  return names.map((name) => {
    const [key = "", code = ""] = name.split(" ");
    const group = s.groups.find((g) => g.of === key);
    const label = group?.values.find((v) => v.code === code)?.label ?? code;
    return {
      name: `${group?.wording ?? key}: ${label}`,
      now: of(s.now, name),
      learned: of(s.suggested, name),
    };
  });
}

function Figure({ name, now, learned }: { name: string; now?: number; learned?: number }) {
  if (!now && !learned) return null;
  return (
    <tr>
      <th scope="row">{name}</th>
      <td className="num">{now ?? 0}</td>
      <td className="num">{learned ?? 0}</td>
    </tr>
  );
}

// Effect tells what the waiting work and its promises would come to.
function Effect({ e }: { e: Schemas["LearnedEffect"] }) {
  const { t } = useTranslation();
  return (
    <div className={e.late_after > e.late_before ? "notice attention" : "notice"}>
      {e.items === 0
        ? t("No such work waits now.")
        : t("The {{count}} items that wait would take {{after}} instead of {{before}}.", {
            count: e.items,
            after: span(e.after),
            before: span(e.before),
          })}{" "}
      {t("Late orders: {{after}} instead of {{before}}.", { after: e.late_after, before: e.late_before })}
      <LateLines list={e.late} />
    </div>
  );
}

const side = 320;
const edge = 28;

// Plot sets the measured minutes against the planned ones; on the line they agree.
function Plot({ s }: { s: Step }) {
  const { t } = useTranslation();
  const list = s.samples ?? [];
  const most = Math.max(10, ...list.flatMap((p) => [p.planned, p.taken])) * 1.05;
  const at = (n: number) => edge + (n / most) * (side - edge - 8);
  return (
    <figure className="learned-plot">
      <svg viewBox={`0 0 ${side} ${side}`} role="img" aria-label={t("Measured minutes against planned ones")}>
        <line className="axis" x1={edge} x2={side - 8} y1={side - edge} y2={side - edge} />
        <line className="axis" x1={edge} x2={edge} y1={8} y2={side - edge} />
        <line className="mean" x1={at(0)} y1={side - at(0)} x2={at(most)} y2={side - at(most)} />
        {list.map((p) => (
          <circle key={`${p.line} ${p.planned} ${p.taken}`} cx={at(p.planned)} cy={side - at(p.taken)} r={4}>
            <title>{`${p.number}: ${p.taken} min, ${t("planned {{n}} min", { n: p.planned })}`}</title>
          </circle>
        ))}
        <text className="scale" x={side - 8} y={side - 10} textAnchor="end">
          {t("planned")} → {minutes(Math.round(most))}
        </text>
        <text className="scale" x={edge + 4} y={16}>
          {t("taken")} ↑
        </text>
      </svg>
      <figcaption className="small quiet">
        {t("On the line, work took as long as it was planned for.")}
      </figcaption>
    </figure>
  );
}
