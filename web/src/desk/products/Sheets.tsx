import { useQuery } from "@tanstack/react-query";
import { Button, Popconfirm } from "antd";
import { useTranslation } from "react-i18next";
import { Link, useNavigate } from "react-router";
import { api, take } from "../../shared/api/client";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { Beginning } from "./Beginning";

// Sheets lists the reusable groups of questions, with where each is used.
export function Sheets() {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const sheets = useQuery({ queryKey: ["sheets"], queryFn: () => take(api.GET("/api/desk/sheets")) });
  const add = useChange({
    send: (body: { name: string; sheet?: number; ready?: string }) =>
      take(api.POST("/api/desk/sheets", { body })),
    done: (s) => navigate(`/sheets/${s.id}`),
  });
  const drop = useChange({
    send: (id: number) => take(api.DELETE("/api/desk/sheets/{id}", { params: { path: { id } } })),
    refreshes: ["sheets"],
  });
  return (
    <section className="sheets">
      <div className="row">
        <h2 className="grow">{t("Sheets")}</h2>
        <Beginning
          wording={t("Name of a new sheet")}
          likes={(sheets.data ?? []).map((s) => ({ id: s.id, title: s.name }))}
          busy={add.busy}
          begin={(b) => add.send({ name: b.title, sheet: b.like, ready: b.ready })}
        />
      </div>
      {sheets.error && <Trouble error={sheets.error} again={() => sheets.refetch()} />}
      <Trouble error={add.problem ?? drop.problem} />
      {sheets.data?.length === 0 && (
        <div className="empty">
          {t("Questions that several products ask can stand here once. Name the first sheet.")}
        </div>
      )}
      <ul className="product-list">
        {sheets.data?.map((s) => (
          <li key={s.id} className="sheet-row">
            <Link to={`/sheets/${s.id}`} className="product-row">
              <span className="grow">
                <h3>{s.name}</h3>
                <span className="quiet small">
                  {t("{{count}} questions", { count: s.questions })} ·{" "}
                  {s.used.length === 0
                    ? t("not used yet")
                    : t("used by: {{names}}", { names: s.used.map((u) => u.title).join(", ") })}
                </span>
              </span>
              {!s.published && <span className="mark plain">{t("not published yet")}</span>}
              {s.published && s.changed && <span className="mark attention">{t("draft has changes")}</span>}
            </Link>
            <Popconfirm
              title={t("Take the sheet “{{name}}” away?", { name: s.name })}
              description={
                s.used.length > 0
                  ? t("It is used by {{names}}. Detach it there first.", {
                      names: s.used.map((u) => u.title).join(", "),
                    })
                  : t("No product uses it.")
              }
              okText={t("Take away")}
              okButtonProps={{ disabled: s.used.length > 0 }}
              cancelText={t("Leave it as it was")}
              onConfirm={() => drop.send(s.id)}
            >
              <Button size="small" aria-label={t("Take {{what}} away", { what: s.name })}>
                ×
              </Button>
            </Popconfirm>
          </li>
        ))}
      </ul>
    </section>
  );
}
