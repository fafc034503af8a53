import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { api, take } from "../../shared/api/client";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";

// Renew has a new link mailed, in place of one whose time is over.
export function Renew({ link }: { link: string }) {
  const { t } = useTranslation();
  const renew = useChange({
    once: true,
    send: () => take(api.POST("/api/shop/orders/{link}/renew", { params: { path: { link } } })),
  });
  if (renew.done) {
    return (
      <div className="notice good" role="status">
        {t("A mail with a new link is on its way to the address of the order.")}
      </div>
    );
  }
  return (
    <>
      <Trouble error={renew.problem} />
      <div>
        <Button type="primary" loading={renew.busy} onClick={() => renew.send()}>
          {t("Mail me a new link")}
        </Button>
      </div>
    </>
  );
}
