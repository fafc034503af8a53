import { useQuery } from "@tanstack/react-query";
import { Button, Checkbox } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate, useParams } from "react-router";
import { api, take } from "../../shared/api/client";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";
import { Evidence } from "../orders/Evidence";
import { typing } from "../typing";
import { Timer } from "./Timer";
import { useDecide } from "./useDecide";
import { Due, Marks, useWorkAction, Waits } from "./WorkRow";

// Workbench shows one item of a worksheet at a time, in big type, for a screen beside
// the work: keys go on and back, start, pause and finish.
export function Workbench() {
  const { t } = useTranslation();
  const { today } = useHere();
  const navigate = useNavigate();
  const { product = "", step = "" } = useParams();
  const [at, setAt] = useState(0);
  const act = useWorkAction();
  const decide = useDecide();
  const sheet = useQuery({
    queryKey: ["worksheet", product, step],
    queryFn: () =>
      take(
        api.GET("/api/desk/worksheets/{product}/{step}", {
          params: { path: { product: Number(product), step } },
        }),
      ),
  });
  const rows = sheet.data?.rows ?? [];
  const place = Math.min(at, Math.max(0, rows.length - 1));
  const row = rows[place];
  const item = row?.item;
  const leave = () => navigate(`/work/${product}/${step}`);
  const go = (by: number) => setAt(Math.min(Math.max(0, place + by), rows.length - 1));
  const can = item?.state === "ready" || item?.state === "started";
  const turn = () => item && can && act.send({ action: item.since ? "pause" : "start", items: [item.id] });
  const finish = () => item && can && act.send({ action: "finish", items: [item.id] });
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (typing(e)) return;
      if (e.key === "ArrowRight" || e.key === "j") go(1);
      else if (e.key === "ArrowLeft" || e.key === "k") go(-1);
      else if (e.key === " ") turn();
      else if (e.key === "Enter") finish();
      else if (e.key === "Escape") leave();
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  });
  if (lost(sheet)) return <Trouble error={sheet.error} again={() => sheet.refetch()} />;
  if (!sheet.data) return null;
  const ticked = (item?.checks ?? []).filter((c) => c.done).map((c) => c.text);
  return (
    <div className="workbench">
      <header className="row">
        <span className="grow">
          {sheet.data.title} · {sheet.data.product}
        </span>
        <span className="num quiet">{rows.length > 0 ? `${place + 1} / ${rows.length}` : ""}</span>
        <Button onClick={leave}>{t("Leave")}</Button>
      </header>
      {item === undefined || row === undefined ? (
        <div className="empty">{t("This step has no open work.")}</div>
      ) : (
        <>
          <section className="workbench-item" aria-live="polite">
            <h1>{item.title}</h1>
            <p className="row">
              <strong className="num">{item.number}</strong> {item.customer} <Due item={item} today={today} />
              <Timer item={item} />
            </p>
            {item.instructions && <p className="work-instructions">{item.instructions}</p>}
            <Marks item={item} />
            <Waits item={item} />
            <dl className="workbench-answers">
              {sheet.data.columns.map((c) => {
                const a = row.cells[c.key];
                return (
                  <div key={c.key}>
                    <dt>{c.wording}</dt>
                    <dd>
                      {a?.words || "–"}
                      {a && <Evidence line={item.line} a={a} />}
                      {a?.words && (
                        <Button size="small" onClick={() => navigator.clipboard.writeText(a.words)}>
                          {t("copy")}
                          <span className="sr"> {c.wording}</span>
                        </Button>
                      )}
                    </dd>
                  </div>
                );
              })}
            </dl>
            {item.checks?.map((c) => (
              <div key={c.text}>
                <Checkbox
                  checked={c.done}
                  onChange={(e) =>
                    decide.decide(item, {
                      ticked: e.target.checked ? [...ticked, c.text] : ticked.filter((x) => x !== c.text),
                    })
                  }
                >
                  {c.text}
                </Checkbox>
              </div>
            ))}
            {item.note && <p className="item-note">{item.note}</p>}
            <Trouble error={act.problem ?? decide.problem} />
          </section>
          <footer className="row">
            <Button size="large" onClick={() => go(-1)} disabled={place === 0}>
              ← {t("Back")}
            </Button>
            <Button size="large" disabled={!can} loading={act.busy} onClick={turn}>
              {item.since ? t("Pause") : item.state === "started" ? t("Go on") : t("Start")}{" "}
              <kbd>{t("Space")}</kbd>
            </Button>
            <Button size="large" type="primary" disabled={!can} loading={act.busy} onClick={finish}>
              {t("Done")} <kbd>Enter</kbd>
            </Button>
            <Button size="large" onClick={() => go(1)} disabled={place >= rows.length - 1}>
              {t("Next")} →
            </Button>
          </footer>
        </>
      )}
    </div>
  );
}
