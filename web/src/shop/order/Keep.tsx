import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";

// Keep prints the order, and ends its private links for a new one.
export function Keep({ order, link }: { order: Schemas["OrderPage"]; link: string }) {
  const { t } = useTranslation();
  const relink = useChange({
    once: true,
    send: () => take(api.POST("/api/shop/orders/{link}/relink", { params: { path: { link } } })),
  });
  return (
    <section className="stack keep-order">
      <div className="row">
        <Button onClick={() => window.print()}>{t("Print, or save as PDF")}</Button>
        {!relink.done && (
          <Button loading={relink.busy} onClick={() => relink.send()}>
            {t("End this link and mail me a new one")}
          </Button>
        )}
      </div>
      {relink.done ? (
        <div className="notice good" role="status">
          {t("This link leads here no longer. A new one is on its way to {{email}}.", { email: order.email })}
        </div>
      ) : (
        <p className="small quiet">
          {t("Whoever has the link to this page sees the order, and can change it.")}
        </p>
      )}
      <Trouble error={relink.problem} />
    </section>
  );
}
