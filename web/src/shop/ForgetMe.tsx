import { Popconfirm } from "antd";
import { useTranslation } from "react-i18next";
import { api, take } from "../shared/api/client";
import { home } from "../shared/home";
import { forgetAll } from "../shared/kept";

// ForgetMe takes out of this browser what is kept of a person in it, for people
// who do not use it alone.
export function ForgetMe() {
  const { t } = useTranslation();
  const forget = async () => {
    forgetAll();
    // Without a connection the pass ends by itself, half a day after it was opened.
    await take(api.DELETE("/api/shop/pass")).catch(() => undefined);
    window.location.assign(`${home}/`);
  };
  return (
    <Popconfirm
      title={t("Forget you in this browser?")}
      description={t(
        "The basket, what you typed, your name and address and the links to your orders go. Your orders stay.",
      )}
      okText={t("Forget me here")}
      cancelText={t("Leave it as it was")}
      onConfirm={forget}
    >
      <button type="button" className="linkish">
        {t("Forget me here")}
      </button>
    </Popconfirm>
  );
}
