import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { Rows } from "../Rows";
import { Instant } from "./Instant";

const queryKey = ["sessions"];

// Sessions lists the browsers that the person is signed in with, and ends the
// others.
export function Sessions() {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const sessions = useQuery({
    queryKey,
    queryFn: () => take(api.GET("/api/desk/sessions")),
    refetchInterval: 60_000,
  });
  const end = useChange({
    send: (id: number) => take(api.DELETE("/api/desk/sessions/{id}", { params: { path: { id } } })),
    done: (rows: Schemas["DeskSession"][]) => queries.setQueryData(queryKey, rows),
  });
  if (lost(sessions)) return <Trouble error={sessions.error} again={() => sessions.refetch()} />;
  return (
    <main className="desk-page">
      <h1>{t("Where you are signed in")}</h1>
      <p className="quiet">
        {t("A sign-in ends by itself when the desk is left alone, and after twelve hours in any case.")}
      </p>
      <Trouble error={end.problem} />
      <Rows
        rows={sessions.data ?? []}
        by={(s) => s.id}
        columns={[
          {
            title: t("Browser"),
            rowScope: "row",
            render: (_, s) => (
              <>
                {named(s.browser) || t("unknown")}
                <div className="small quiet num">{t("from {{address}}", { address: s.address })}</div>
              </>
            ),
          },
          {
            title: t("Used last"),
            render: (_, s) => (
              <>
                <Instant at={s.seen} />
                <div className="small quiet">
                  {t("signed in")} <Instant at={s.since} />
                </div>
              </>
            ),
          },
          {
            title: <span className="sr">{t("End")}</span>,
            align: "right",
            render: (_, s) =>
              s.here ? (
                <span className="mark good">● {t("this one")}</span>
              ) : (
                <Button
                  size="small"
                  loading={end.busy}
                  aria-label={t("End the sign-in from {{address}}", { address: s.address })}
                  onClick={() => end.send(s.id)}
                >
                  {t("End")}
                </Button>
              ),
          },
        ]}
      />
    </main>
  );
}

// named shortens what a browser calls itself to its name and its system.
function named(browser: string): string {
  const system = /\(([^;)]+)/.exec(browser)?.[1];
  const name = /(Firefox|Edg|OPR|HeadlessChrome|Chrome|Safari)\/(\d+)/.exec(browser);
  if (!name) return browser.slice(0, 60);
  return [`${name[1]} ${name[2]}`, system].filter(Boolean).join(", ");
}
