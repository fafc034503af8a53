import { useQueryClient } from "@tanstack/react-query";
import { Button, Modal } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, local } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { RecipientFields } from "./RecipientFields";

type Props = { order: Schemas["OrderPage"]; link: string };

// Recipient shows the buyer for whom the order is, whether they were told, and the ways to
// reach them.
export function Recipient({ order, link }: Props) {
  const { t } = useTranslation();
  const [changing, setChanging] = useState(false);
  const params = { path: { link } };
  const invite = useChange({
    once: true,
    send: (mail: boolean) => take(api.POST("/api/shop/orders/{link}/recipient", { params, body: { mail } })),
  });
  const r = order.recipient;
  if (!r || order.money.state !== "placed") return null;
  const at = (instant: string) => {
    const { day: on, time } = local(instant, order.zone);
    return `${day(on, order.today)}, ${time}`;
  };
  return (
    <section className="sheet stack" aria-label={t("For {{name}}", { name: r.name })}>
      <div className="row">
        <h2 className="grow">{t("For {{name}}", { name: r.name })}</h2>
        <Button onClick={() => setChanging(true)}>{t("Change")}</Button>
      </div>
      <p>
        {r.told &&
          t("{{name}} was told on {{when}}, at {{email}}.", {
            name: r.name,
            when: at(r.told),
            email: r.email,
          })}
        {r.tells &&
          t("{{name}} is told on {{when}}, at {{email}}.", {
            name: r.name,
            when: at(r.tells),
            email: r.email,
          })}
        {!r.told && !r.tells && t("You hand the link over yourself.")}
      </p>
      {r.words && <blockquote className="gift-words small">{r.words}</blockquote>}
      <div className="row">
        {r.email && r.told && (
          <Button size="small" loading={invite.busy} onClick={() => invite.send(true)}>
            {t("Mail a new link")}
          </Button>
        )}
        <Button size="small" loading={invite.busy} onClick={() => invite.send(false)}>
          {t("Get a link to hand over")}
        </Button>
      </div>
      {invite.data?.address && (
        <p className="notice good" role="status">
          {t("Only {{name}} should have it; links from before have ended:", { name: r.name })}{" "}
          <a href={invite.data.address}>{invite.data.address}</a>
        </p>
      )}
      {invite.done && !invite.data?.address && (
        <p className="notice good" role="status">
          {t("It is on its way. Links from before have ended.")}
        </p>
      )}
      <Trouble error={invite.problem} />
      {changing && <ChangeRecipient order={order} link={link} of={r} close={() => setChanging(false)} />}
    </section>
  );
}

type ChangeProps = Props & { of: Schemas["Recipient"]; close: () => void };

function ChangeRecipient({ link, of, close }: ChangeProps) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [wish, setWish] = useState<Schemas["RecipientWish"]>({
    name: of.name,
    email: of.email,
    words: of.words,
    from: of.from,
    answers: of.answers,
    files: of.files,
  });
  const change = useChange({
    send: () =>
      take(api.PUT("/api/shop/orders/{link}/recipient", { params: { path: { link } }, body: wish })),
    done: (page) => {
      queries.setQueryData(["order", link], page);
      close();
    },
  });
  return (
    <Modal
      open
      title={t("For {{name}}", { name: of.name })}
      okText={t("Keep it so")}
      cancelText={t("Leave it")}
      confirmLoading={change.busy}
      onOk={() => change.send()}
      onCancel={close}
    >
      {of.told && <p className="quiet">{t("They were told, so only what they see can be changed.")}</p>}
      <RecipientFields
        wish={wish}
        set={setWish}
        of={(key) => change.of(`recipient.${key}`)}
        told={of.told !== undefined}
      />
      <Trouble error={change.problem} />
    </Modal>
  );
}
