import { useQuery } from "@tanstack/react-query";
import { Button, Popconfirm } from "antd";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, local } from "../../shared/format";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";
import { Rows } from "../Rows";
import { ProductTabs } from "../Tabs";

const key = "rehearsals";

export function useRehearsals() {
  return useQuery({ queryKey: [key], queryFn: () => take(api.GET("/api/desk/rehearsals")) });
}

export function useSweep() {
  return useChange({
    send: (name: string) =>
      take(
        name === ""
          ? api.DELETE("/api/desk/rehearsals")
          : api.DELETE("/api/desk/rehearsals/{name}", { params: { path: { name } } }),
      ),
    refreshes: [key],
  });
}

// Rehearsals lists the rehearsals that were not swept.
export function Rehearsals() {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const list = useRehearsals();
  const sweep = useSweep();
  if (lost(list)) return <Trouble error={list.error} again={() => list.refetch()} />;
  const rows = list.data ?? [];
  return (
    <main className="desk-page">
      <div className="row">
        <h1 className="grow">{t("Rehearsals")}</h1>
        {rows.length > 0 && (
          <Popconfirm
            title={t("Sweep all rehearsals, with what was ordered in them?")}
            okText={t("Sweep all")}
            cancelText={t("Keep them")}
            onConfirm={() => sweep.send("")}
          >
            <Button loading={sweep.busy}>{t("Sweep all")}</Button>
          </Popconfirm>
        )}
      </div>
      <ProductTabs />
      <p className="quiet">
        {t(
          "A rehearsal is a shop and a desk of its own, in which a product is tried to the end. Nothing of it counts. One that nobody uses for a week is swept by itself.",
        )}
      </p>
      <Trouble error={sweep.problem} />
      {list.data?.length === 0 && (
        <div className="empty">{t("Rehearsals will be here. Begin one from a product.")}</div>
      )}
      {rows.length > 0 && (
        <Rows
          rows={rows}
          by={(r) => r.name}
          columns={[
            {
              title: t("Product"),
              rowScope: "row",
              render: (_, r) => (
                <span className="stack-tight">
                  <strong>{r.title}</strong>
                  <span className="quiet small">
                    {r.edition ? t("edition {{n}}", { n: r.edition }) : t("draft")}
                  </span>
                </span>
              ),
            },
            {
              title: t("Begun"),
              responsive: ["md"],
              render: (_, r) => {
                const at = local(r.begun, session.zone);
                return `${day(at.day, today)} ${at.time} · ${r.by}`;
              },
            },
            { title: t("Its day"), responsive: ["md"], render: (_, r) => day(r.day, today) },
            { title: t("Orders"), align: "right", className: "num", dataIndex: "orders" },
            { title: t("Mails"), align: "right", className: "num", dataIndex: "mails" },
            {
              title: "",
              align: "right",
              render: (_, r) => <Actions of={r} sweep={() => sweep.send(r.name)} busy={sweep.busy} />,
            },
          ]}
        />
      )}
    </main>
  );
}

type ActionsProps = { of: Schemas["Rehearsal"]; sweep: () => void; busy: boolean };

// Actions are what can be done with one rehearsal.
export function Actions({ of, sweep, busy }: ActionsProps) {
  const { t } = useTranslation();
  return (
    <span className="rehearsal-actions">
      <Button size="small" href={`${of.path}/p/${of.slug}`} target="_blank">
        {t("Walk on")}
      </Button>
      <Button size="small" href={`${of.path}/desk`} target="_blank">
        {t("Its desk")}
      </Button>
      <Button size="small" type="text" danger disabled={busy} onClick={sweep}>
        {t("Sweep")}
      </Button>
    </span>
  );
}
