import { useQuery } from "@tanstack/react-query";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { Rows } from "../Rows";

type Step = Schemas["LearnedStep"];

// minutes writes minutes to a tenth.
export const minutes = (n: number) => `${Math.round(n * 10) / 10} min`;

// Learned lists what steps really take, of those whose work was measured.
export function Learned() {
  const { t } = useTranslation();
  const list = useQuery({ queryKey: ["learned"], queryFn: () => take(api.GET("/api/desk/learned")) });
  return (
    <main className="desk-page wide">
      <div className="row">
        <h1 className="grow">{t("How long work takes")}</h1>
        <Link to="/work">{t("Work")}</Link>
      </div>
      <p className="quiet">
        {t(
          "Of the work that was started and finished with the clock. Those whose plan is farthest off come first.",
        )}
      </p>
      <Trouble error={lost(list)} />
      {list.data?.length === 0 && (
        <div className="empty">
          {t(
            "Nothing was measured yet. Press Start when you begin with something, and Done when it is done.",
          )}
        </div>
      )}
      {list.data && list.data.length > 0 && (
        <Rows
          rows={list.data}
          by={(s) => `${s.product} ${s.step}`}
          columns={[
            {
              title: t("Step"),
              render: (_, s) => (
                <>
                  <Link to={`/work/learned/${s.product}/${s.step}`}>{s.called}</Link>
                  <div className="small quiet">{s.title}</div>
                </>
              ),
            },
            { title: t("Measured"), align: "right", className: "num", render: (_, s) => s.taken.n },
            {
              title: t("Planned"),
              align: "right",
              className: "num",
              render: (_, s) => minutes(s.planned.median),
            },
            {
              title: t("Taken"),
              align: "right",
              className: "num",
              render: (_, s) => (
                <>
                  {minutes(s.taken.median)}
                  <div className="small quiet">
                    {t("half of it {{from}} to {{to}}", {
                      from: minutes(s.taken.lower),
                      to: minutes(s.taken.upper),
                    })}
                  </div>
                </>
              ),
            },
            { title: t("Off by"), align: "right", className: "num", render: (_, s) => minutes(s.off) },
            {
              title: t("With learned minutes"),
              align: "right",
              className: "num",
              render: (_, s) => (s.suggested ? minutes(s.off_learned) : <Few s={s} />),
            },
          ]}
        />
      )}
    </main>
  );
}

// Few says that more has to be measured to learn from.
export function Few({ s }: { s: Step }) {
  const { t } = useTranslation();
  return (
    <span className="small quiet">
      {t("{{count}} more to measure", { count: Math.max(5 - s.taken.n, 1) })}
    </span>
  );
}
