import { Button, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../shared/api/client";
import { money } from "../shared/format";
import { useExtras } from "./keep";

// CouponBox takes codes of coupons and vouchers, as customers do not know which of
// the two theirs is, and says of each whether it counts and what it pays.
export function CouponBox({ coupons, currency }: { coupons?: Schemas["CouponView"][]; currency: string }) {
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
      <summary className="small">{t("I have a coupon or a voucher")}</summary>
      {extras.coupons.map((c) => {
        const view = coupons?.find((x) => x.code === c);
        const pays = view?.pays !== undefined && view.rest !== undefined;
        return (
          <div key={c} className="row coupon">
            <code className="grow">{c}</code>
            <button type="button" className="linkish small" onClick={() => drop(c)}>
              {t("Take out")}
              <span className="sr"> {c}</span>
            </button>
            {pays && (
              <div className="small quiet coupon-pays" role="status">
                {t("pays {{amount}}, {{rest}} stay on it", {
                  amount: money(view.pays ?? 0, currency),
                  rest: money(view.rest ?? 0, currency),
                })}
              </div>
            )}
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
          aria-label={t("Code")}
          placeholder={t("Code of a coupon or voucher")}
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
