import { Checkbox } from "antd";
import { useTranslation } from "react-i18next";
import { digits } from "../../../shared/currency";
import { Labelled } from "../../../shared/Labelled";
import { MoneyBox, WholeBox } from "../../../shared/questions/boxes";
import type { PartProps } from "./parts";

// Shown asks whether the customer is shown what the step made, and how often they can
// have it changed.
export function Shown({ s, set, currency }: PartProps & { currency: string }) {
  const { t } = useTranslation();
  const a = s.acceptance;
  const change = (part: Partial<NonNullable<typeof a>>) => set({ acceptance: { ...a, ...part } });
  return (
    <>
      <h3 className="apart">{t("The customer")}</h3>
      <Checkbox
        checked={a !== undefined}
        onChange={(e) => set({ acceptance: e.target.checked ? { rounds: 1, silence: 7 } : undefined })}
      >
        {t("is shown what it made, and accepts it or asks for changes")}
      </Checkbox>
      {a && (
        <div className="pair three">
          <Labelled id="rounds" wording={t("Included rounds of changes")}>
            <WholeBox id="rounds" value={a.rounds} onChange={(n) => change({ rounds: n || undefined })} />
          </Labelled>
          <Labelled
            id="round-price"
            wording={t("A further round costs")}
            help={t("Empty: there are no further ones.")}
          >
            <MoneyBox
              id="round-price"
              digits={digits(currency)}
              prefix={currency}
              value={a.price}
              onChange={(n) => change({ price: n || undefined })}
            />
          </Labelled>
          <Labelled
            id="silence"
            wording={t("No answer counts as acceptance after")}
            help={t("Days. Empty: never.")}
          >
            <WholeBox id="silence" value={a.silence} onChange={(n) => change({ silence: n || undefined })} />
          </Labelled>
        </div>
      )}
    </>
  );
}
