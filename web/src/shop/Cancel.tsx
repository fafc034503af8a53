import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Modal } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, Problem, type Schemas, take } from "../shared/api/client";
import { CreditTable } from "../shared/money/CreditTable";
import { Trouble } from "../shared/Trouble";
import { useChange } from "../shared/useChange";
import { CancelTerms } from "./CancelTerms";

type Props = { order: Schemas["OrderPage"]; link: string };

// Cancel lets the customer cancel the order, or lines of it, as far as the
// rules let them; otherwise it says how it is asked for.
export function Cancel({ order, link }: Props) {
  const { t } = useTranslation();
  const [asked, setAsked] = useState(false);
  const lines = (order.cancels ?? []).filter((c) => c.line !== undefined);
  if (order.money.state !== "placed" || lines.length === 0) return null;
  const open = lines.filter((c) => c.self);
  const told = order.cancelling?.some((s) => s.rules.length > 0);
  if (!told && open.length === 0) return null;
  return (
    <section className="sheet stack" aria-label={t("Cancel")}>
      <CancelTerms sets={order.cancelling} />
      {open.length > 0 ? (
        <div>
          <Button onClick={() => setAsked(true)}>{t("Cancel …")}</Button>
        </div>
      ) : (
        <p className="quiet small">
          {t("It can no longer be cancelled here. Write to {{business}} if you have to.", {
            business: order.business,
          })}
        </p>
      )}
      {asked && <Ask order={order} link={link} lines={open} close={() => setAsked(false)} />}
    </section>
  );
}

type AskProps = Props & { lines: Schemas["CancelledLine"][]; close: () => void };

function Ask({ order, link, lines, close }: AskProps) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [chosen, choose] = useState(lines.map((l) => l.line as number));
  const path = { params: { path: { link } } };
  const preview = useQuery({
    queryKey: ["cancel", link, chosen],
    enabled: chosen.length > 0,
    retry: false,
    gcTime: 0,
    placeholderData: (old) => old,
    queryFn: () =>
      take(api.POST("/api/shop/orders/{link}/cancel/preview", { ...path, body: { lines: chosen } })),
  });
  const cancel = useChange({
    once: true,
    send: () =>
      take(
        api.POST("/api/shop/orders/{link}/cancel", {
          ...path,
          body: { lines: chosen, total: preview.data?.total },
        }),
      ),
    refused: (e) => {
      if (e instanceof Problem && e.code === "cancel_changed") preview.refetch();
    },
    done: (page) => {
      queries.setQueryData(["order", link], page);
      close();
    },
  });
  return (
    <Modal
      open
      title={t("Cancel your order {{number}}?", { number: order.number })}
      okText={t("Yes, cancel it")}
      okButtonProps={{
        danger: true,
        loading: cancel.busy,
        disabled: chosen.length === 0 || !preview.data || preview.isPlaceholderData,
      }}
      cancelText={t("Keep it")}
      onOk={() => cancel.send()}
      onCancel={close}
    >
      <Trouble error={cancel.problem ?? preview.error} />
      {lines.length > 1 && (
        <fieldset className="money-lines">
          <legend>{t("Which of it?")}</legend>
          {lines.map((l) => (
            <Checkbox
              key={l.line}
              checked={chosen.includes(l.line as number)}
              onChange={(e) =>
                choose(
                  e.target.checked ? [...chosen, l.line as number] : chosen.filter((id) => id !== l.line),
                )
              }
            >
              {l.title}
            </Checkbox>
          ))}
        </fieldset>
      )}
      {chosen.length > 0 && preview.data && (
        <CreditTable preview={preview.data} currency={order.slip.currency} cancelling />
      )}
      <p className="quiet small">{t("This cannot be undone.")}</p>
    </Modal>
  );
}
