import { useQuery } from "@tanstack/react-query";
import { Button, Modal } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, take } from "../../shared/api/client";
import { money, plain } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";

type Props = { id: number; version: number; close: () => void; publish: () => void; edition: number };

// ReplayView shows, before a draft is published, what it would have made of
// the last orders: other totals, the lines that moved, and answers that would
// no longer be valid.
export function ReplayView({ id, version, close, publish, edition }: Props) {
  const { t } = useTranslation();
  const replay = useQuery({
    queryKey: ["replay", id, version],
    queryFn: () => take(api.POST("/api/desk/products/{id}/replay", { params: { path: { id } }, body: {} })),
    staleTime: 0,
    gcTime: 0,
  });
  const r = replay.data;
  return (
    <Modal
      open
      width={760}
      title={t("The last orders under this draft")}
      onCancel={close}
      footer={[
        <Button key="close" onClick={close}>
          {t("Leave it as it was")}
        </Button>,
        <Button key="publish" type="primary" onClick={publish} disabled={!r}>
          {t("Publish edition {{n}}", { n: edition })}
        </Button>,
      ]}
    >
      {replay.error && <Trouble error={replay.error} again={() => replay.refetch()} />}
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
              <table className="figures">
                <thead>
                  <tr>
                    <th scope="col">{t("Order")}</th>
                    <th scope="col" className="num">
                      {t("was")}
                    </th>
                    <th scope="col" className="num">
                      {t("would be")}
                    </th>
                    <th scope="col">{t("What moved")}</th>
                  </tr>
                </thead>
                <tbody>
                  {r.rows.map((row) => (
                    <tr key={row.line}>
                      <th scope="row">
                        <Link to={`/orders/${row.line}`} target="_blank">
                          {row.number}
                        </Link>{" "}
                        <span className="quiet small">{row.customer}</span>
                      </th>
                      <td className="num">{money(row.old, r.currency)}</td>
                      <td className={row.old === row.new ? "num" : "num moved"}>
                        {money(row.new, r.currency)}
                      </td>
                      <td className="small">
                        {row.moved.map((m) => (
                          <div key={`${m.label}${m.old}${m.new}`}>
                            {m.label}: {m.old === undefined ? t("new") : plain(m.old, r.currency)} →{" "}
                            {m.new === undefined ? t("gone") : plain(m.new, r.currency)}
                          </div>
                        ))}
                        {row.invalid.map((f) => (
                          <div key={f.key} className="question-fault">
                            {f.key}: {f.message}
                          </div>
                        ))}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )}
        </>
      )}
    </Modal>
  );
}
