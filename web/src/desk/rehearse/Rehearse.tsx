import { Button, Modal } from "antd";
import { useTranslation } from "react-i18next";
import { api, take } from "../../shared/api/client";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { Actions, useRehearsals, useSweep } from "./Rehearsals";
import { Walks } from "./Walks";

type Props = { product: number; close: () => void };

// Rehearse has a draft walked to the end: by the seller, in a shop and at a desk that
// count for nothing, and by the program with answers that it makes up.
export function Rehearse({ product, close }: Props) {
  const { t } = useTranslation();
  return (
    <Modal open width={720} title={t("Rehearse the draft")} footer={null} onCancel={close}>
      <div className="stack">
        <Own product={product} />
        <Walks product={product} />
      </div>
    </Modal>
  );
}

// useBegin begins a rehearsal, and opens it beside.
export function useBegin(product: number) {
  return useChange({
    once: true,
    send: (edition: number | undefined) =>
      take(api.POST("/api/desk/rehearsals", { body: { product, edition } })),
    refreshes: ["rehearsals"],
  });
}

function Own({ product }: { product: number }) {
  const { t } = useTranslation();
  const list = useRehearsals();
  const sweep = useSweep();
  const begin = useBegin(product);
  const mine = (list.data ?? []).filter((r) => r.product === product);
  return (
    <section className="stack" aria-labelledby="walk-yourself">
      <h3 id="walk-yourself">{t("Walk it yourself")}</h3>
      <p className="quiet">
        {t(
          "You get a shop and a desk of their own: choose, pay with a made-up card, brief, do the work, hand over. Any day can be today, mails stay in a tray, and nothing counts.",
        )}
      </p>
      <div className="row">
        <Button type="primary" loading={begin.busy} onClick={() => begin.send(undefined)}>
          {t("Begin a rehearsal")}
        </Button>
      </div>
      <Trouble error={begin.problem ?? sweep.problem ?? list.error} />
      {mine.length > 0 && (
        <ul className="rehearsal-list" aria-label={t("Rehearsals")}>
          {mine.map((r) => (
            <li key={r.name} className="row">
              <span className="grow">
                {r.edition ? t("edition {{n}}", { n: r.edition }) : t("draft")}
                <span className="quiet small">
                  {" · "}
                  {t("{{count}} orders", { count: r.orders })}
                </span>
              </span>
              <Actions of={r} sweep={() => sweep.send(r.name)} busy={sweep.busy} />
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
