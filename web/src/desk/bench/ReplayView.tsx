import { useQuery } from "@tanstack/react-query";
import { Button, Modal } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { money, plain } from "../../shared/format";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { Rows } from "../Rows";

type Props = {
  // what is looked at, and in which state
  of: [string, number, number];
  load: () => Promise<Schemas["Replay"]>;
  title: string;
  close: () => void;
  publish: () => void;
  publishing: string;
};

// ReplayView shows, before a draft is published, what it would have made of
// the last orders: other totals, the lines that moved, and answers that would
// no longer be valid.
export function ReplayView({ of, load, title, close, publish, publishing }: Props) {
  const { t } = useTranslation();
  const replay = useQuery({
    queryKey: ["replay", ...of],
    queryFn: load,
    staleTime: 0,
    gcTime: 0,
  });
  const r = replay.data;
  return (
    <Modal
      open
      width={760}
      title={title}
      onCancel={close}
      footer={[
        <Button key="close" onClick={close}>
          {t("Leave it as it was")}
        </Button>,
        <Button key="publish" type="primary" onClick={publish} disabled={!r}>
          {publishing}
        </Button>,
      ]}
    >
      <Trouble error={lost(replay)} again={() => replay.refetch()} />
      {replay.isPending && <p role="status">{t("The last orders are being computed again …")}</p>}
      {r && (
        <>
          <p role="status">
            {r.orders === 0
              ? t("Nothing of this product was ordered yet.")
              : r.rows.length === 0
                ? t("All {{count}} orders come to the same.", { count: r.orders })
                : t(
                    "{{changed}} of {{count}} orders would come out differently. They keep what was agreed; new orders will not.",
                    {
                      changed: r.rows.length,
                      count: r.orders,
                    },
                  )}
          </p>
          {r.rows.length > 0 && (
            <div className="replay">
              <Rows
                rows={r.rows}
                by={(row) => row.line}
                columns={[
                  {
                    title: t("Order"),
                    rowScope: "row",
                    sorter: (a, b) => a.number - b.number,
                    render: (_, row) => (
                      <>
                        <Link to={`/orders/${row.line}`} target="_blank">
                          {row.number}
                        </Link>{" "}
                        <span className="quiet small">{row.customer}</span>
                      </>
                    ),
                  },
                  {
                    title: t("was"),
                    align: "right",
                    className: "num",
                    sorter: (a, b) => a.old - b.old,
                    render: (_, row) => money(row.old, row.currency),
                  },
                  {
                    title: t("would be"),
                    align: "right",
                    className: "num",
                    sorter: (a, b) => a.new - b.new,
                    render: (_, row) =>
                      row.old === row.new ? (
                        money(row.new, row.currency)
                      ) : (
                        <b>{money(row.new, row.currency)}</b>
                      ),
                  },
                  {
                    title: t("What moved"),
                    className: "small",
                    render: (_, row) => (
                      <>
                        {row.moved.map((m) => (
                          <div key={`${m.label}${m.old}${m.new}`}>
                            {m.label}: {m.old === undefined ? t("new") : plain(m.old, row.currency)} →{" "}
                            {m.new === undefined ? t("gone") : plain(m.new, row.currency)}
                          </div>
                        ))}
                        {row.invalid.map((f) => (
                          <div key={f.key} className="question-fault">
                            {f.key}: {f.message}
                          </div>
                        ))}
                      </>
                    ),
                  },
                ]}
              />
            </div>
          )}
        </>
      )}
    </Modal>
  );
}
