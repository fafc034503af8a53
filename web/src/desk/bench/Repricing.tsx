import { useQuery } from "@tanstack/react-query";
import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, take } from "../../shared/api/client";
import { digits } from "../../shared/currency";
import { plain } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { lost } from "../../shared/lost";
import { MoneyBox } from "../../shared/questions/boxes";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import type { Draft } from "./draft";

type Props = {
  // of the product; 0 for a sheet
  id: number;
  draft: Draft;
  to: string;
  change: (draft: Draft) => void;
};

// Repricing tells that a draft's amounts are in a currency that the business
// has left, and asks for each of them anew.
export function Repricing({ id, draft, to, change }: Props) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  return (
    <div className="notice attention row" role="status">
      <span className="grow">
        {id === 0
          ? t(
              "The amounts are in {{old}}. You sell in {{currency}} now, so no product with this sheet can be bought until you give them anew.",
              { old: draft.currency, currency: to },
            )
          : t(
              "The amounts are in {{old}}. You sell in {{currency}} now, so nobody can buy it until you give them anew.",
              { old: draft.currency, currency: to },
            )}
      </span>
      <Button onClick={() => setOpen(true)}>{t("Give the amounts in {{currency}}", { currency: to })}</Button>
      {open && (
        <Asking
          id={id}
          draft={draft}
          to={to}
          close={() => setOpen(false)}
          change={(next) => {
            setOpen(false);
            change(next);
          }}
        />
      )}
    </div>
  );
}

function Asking({ id, draft, to, change, close }: Props & { close: () => void }) {
  const { t } = useTranslation();
  const [amounts, setAmounts] = useState<Record<string, number>>({});
  const [formulas, setFormulas] = useState<Record<string, string>>({});
  const ask = (given?: Record<string, number>, kept?: Record<string, string>) =>
    take(
      api.POST("/api/desk/products/{id}/reprice", {
        params: { path: { id } },
        body: { draft, amounts: given, formulas: kept },
      }),
    );
  const asked = useQuery({ queryKey: ["reprice", id, draft], queryFn: () => ask() });
  // A formula need not name money at all; it stays as it is unless it is changed.
  const kept = Object.fromEntries((asked.data?.amounts ?? []).map((a) => [a.place, a.formula ?? ""]));
  const give = useChange({
    send: () => ask(amounts, { ...kept, ...formulas }),
    done: (r) => r.draft && change(r.draft),
  });
  const { of } = give;
  return (
    <Modal
      open
      title={t("Give the amounts in {{currency}}", { currency: to })}
      okText={t("Take these amounts")}
      cancelText={t("Not now")}
      onOk={() => give.send()}
      onCancel={close}
      okButtonProps={{ loading: give.busy, disabled: !asked.data }}
    >
      <div className="stack">
        <Trouble error={lost(asked)} again={() => asked.refetch()} />
        <Trouble error={give.problem} />
        {asked.data?.amounts.map((a) => {
          const field = `new-${a.place}`;
          const wording = `${a.of || draft.title}: ${a.what}`;
          return a.formula === undefined ? (
            <Labelled
              key={a.place}
              id={field}
              wording={wording}
              help={t("was {{amount}} {{currency}}", {
                amount: plain(a.was, draft.currency),
                currency: draft.currency,
              })}
              fault={of(a.place)}
            >
              <MoneyBox
                id={field}
                digits={digits(to)}
                prefix={to}
                value={amounts[a.place]}
                onChange={(n) =>
                  setAmounts(({ [a.place]: _, ...rest }) =>
                    n === undefined ? rest : { ...rest, [a.place]: n },
                  )
                }
              />
            </Labelled>
          ) : (
            <Labelled
              key={a.place}
              id={field}
              wording={wording}
              help={t("Change the numbers in it that are {{currency}}.", { currency: draft.currency })}
              fault={of(a.place)}
            >
              <Input
                id={field}
                value={formulas[a.place] ?? a.formula}
                onChange={(e) => setFormulas((old) => ({ ...old, [a.place]: e.target.value }))}
              />
            </Labelled>
          );
        })}
      </div>
    </Modal>
  );
}
