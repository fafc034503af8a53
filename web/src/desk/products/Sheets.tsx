import { useQuery } from "@tanstack/react-query";
import { Button, Popconfirm } from "antd";
import { useTranslation } from "react-i18next";
import { Link, useNavigate } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { Rows } from "../Rows";
import { Beginning } from "./Beginning";

// Sheets lists the reusable groups of questions, with where each is used.
export function Sheets() {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const sheets = useQuery({ queryKey: ["sheets"], queryFn: () => take(api.GET("/api/desk/sheets")) });
  const add = useChange({
    once: true,
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
      <Trouble error={lost(sheets)} again={() => sheets.refetch()} />
      <Trouble error={add.problem ?? drop.problem} />
      {sheets.data?.length === 0 && (
        <div className="empty">
          {t("Questions that several products ask can stand here once. Name the first sheet.")}
        </div>
      )}
      {sheets.data && sheets.data.length > 0 && (
        <Rows
          rows={sheets.data}
          by={(s) => s.id}
          columns={[
            {
              title: t("Name"),
              rowScope: "row",
              sorter: (a, b) => a.name.localeCompare(b.name),
              render: (_, s) => (
                <Link to={`/sheets/${s.id}`} className="product-link">
                  <strong>{s.name}</strong>
                </Link>
              ),
            },
            {
              title: t("Used by"),
              render: (_, s) =>
                s.used.length === 0 ? (
                  <span className="quiet">{t("not used yet")}</span>
                ) : (
                  <>
                    {s.used.map((u) => u.title).join(", ")}{" "}
                    <Link to={`/sheets/${s.id}/answers`} className="small">
                      {t("Answers")}
                      <span className="sr"> {s.name}</span>
                    </Link>
                  </>
                ),
            },
            {
              title: t("Questions"),
              align: "right",
              className: "num",
              dataIndex: "questions",
              sorter: (a, b) => a.questions - b.questions,
            },
            {
              title: t("State"),
              render: (_, s) =>
                !s.published ? (
                  <span className="mark plain">{t("not published yet")}</span>
                ) : (
                  s.changed && <span className="mark attention">{t("draft has changes")}</span>
                ),
            },
            {
              title: <span className="sr">{t("Take away")}</span>,
              align: "right",
              render: (_, s) => <DropSheet s={s} drop={() => drop.send(s.id)} />,
            },
          ]}
        />
      )}
    </section>
  );
}

function DropSheet({ s, drop }: { s: Schemas["SheetRow"]; drop: () => void }) {
  const { t } = useTranslation();
  const names = s.used.map((u) => u.title).join(", ");
  return (
    <Popconfirm
      title={t("Take the sheet “{{name}}” away?", { name: s.name })}
      description={
        s.used.length > 0
          ? t("It is used by {{names}}. Detach it there first.", { names })
          : t("No product uses it.")
      }
      okText={t("Take away")}
      okButtonProps={{ disabled: s.used.length > 0 }}
      cancelText={t("Leave it as it was")}
      onConfirm={drop}
    >
      <Button size="small" aria-label={t("Take {{what}} away", { what: s.name })}>
        ×
      </Button>
    </Popconfirm>
  );
}
