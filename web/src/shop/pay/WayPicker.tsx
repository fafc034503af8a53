import { Radio } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { longDay } from "../../shared/format";

type Ways = Schemas["WayToPay"][];
export type Way = Ways[number]["way"];

type Props = { ways: Ways; lines: number; value: Way | undefined; choose: (way: Way) => void };

// WayPicker says how an order can be paid, and chooses where there is a choice.
export function WayPicker({ ways, lines, value, choose }: Props) {
  const { t } = useTranslation();
  const names: Record<Way, string> = { card: t("By card"), transfer: t("By bank transfer") };
  const told = (w: Ways[number]) => {
    if (w.refused) return w.refused;
    if (w.way === "card") return t("On the page of the payment service. It leads you back here afterwards.");
    return t("You get the account and a code to scan. Everything is held for you until {{day}}.", {
      day: longDay(w.until ?? ""),
    });
  };
  if (ways.length === 0) {
    return (
      <div className="notice bad" role="alert">
        {lines > 1
          ? t("These cannot be paid together. Order them one by one.")
          : t("This cannot be paid here right now. Write to us.")}
      </div>
    );
  }
  const only = ways.length === 1 ? ways[0] : undefined;
  if (only) {
    return (
      <p>
        <strong>{names[only.way]}.</strong> {told(only)}
      </p>
    );
  }
  return (
    <fieldset className="ways">
      <legend className="sr">{t("How do you want to pay?")}</legend>
      <Radio.Group value={value} onChange={(e) => choose(e.target.value)}>
        {ways.map((w) => (
          <Radio key={w.way} value={w.way} disabled={w.refused !== undefined} className="way">
            <strong>{names[w.way]}</strong>
            <span className="small quiet">{told(w)}</span>
          </Radio>
        ))}
      </Radio.Group>
    </fieldset>
  );
}
