import { Button, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../shared/api/client";
import { useExtras } from "./keep";

// CouponBox takes coupon codes and says of each whether it counts.
export function CouponBox({ coupons }: { coupons?: Schemas["CouponView"][] }) {
  const { t } = useTranslation();
  const [extras, setExtras] = useExtras();
  const [code, setCode] = useState("");
  const [open, setOpen] = useState(false);
  const add = () => {
    const clean = code.trim().toUpperCase();
    if (clean === "") return;
    setCode("");
    setExtras((old) => ({
      ...old,
      coupons: [...old.coupons.filter((c) => c !== clean), clean],
    }));
  };
  const drop = (gone: string) =>
    setExtras((old) => ({ ...old, coupons: old.coupons.filter((c) => c !== gone) }));
  return (
    <details
      className="coupons"
      open={open || extras.coupons.length > 0}
      onToggle={(e) => setOpen(e.currentTarget.open)}
    >
      <summary className="small">{t("I have a coupon")}</summary>
      {extras.coupons.map((c) => {
        const view = coupons?.find((x) => x.code === c);
        return (
          <div key={c} className="row coupon">
            <code className="grow">{c}</code>
            <button type="button" className="linkish small" onClick={() => drop(c)}>
              {t("Take out")}
              <span className="sr"> {c}</span>
            </button>
            {view?.message && (
              <div className="question-fault" role="alert">
                {view.message}
              </div>
            )}
          </div>
        );
      })}
      <form
        className="row"
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
      >
        <Input
          aria-label={t("Coupon code")}
          placeholder={t("Coupon code")}
          value={code}
          maxLength={40}
          onChange={(e) => setCode(e.target.value)}
        />
        <Button htmlType="submit" disabled={code.trim() === ""}>
          {t("Use it")}
        </Button>
      </form>
    </details>
  );
}
