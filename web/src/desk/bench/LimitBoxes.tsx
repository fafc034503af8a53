import { Input } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../shared/Labelled";
import { MoneyBox } from "../../shared/questions/boxes";
import type { Draft } from "./draft";

type Props = { draft: Draft; change: (draft: Draft) => void; digits: number };

// LimitBoxes edits the least and the most that an order line costs, with the
// slip's words for what is missing or beyond.
export function LimitBoxes({ draft, change, digits }: Props) {
  const { t } = useTranslation();
  const limits = draft.limits ?? {};
  const set = (part: typeof limits) => {
    const next = { ...limits, ...part };
    if (next.least === undefined) next.least_label = undefined;
    if (next.most === undefined) next.most_label = undefined;
    const none = next.least === undefined && next.most === undefined;
    change({ ...draft, limits: none ? undefined : next });
  };
  return (
    <section>
      <h3>{t("Least and most of an order line")}</h3>
      <div className="pair">
        <Labelled id="least" wording={t("No less than")}>
          <MoneyBox
            id="least"
            digits={digits}
            prefix={draft.currency}
            value={limits.least}
            onChange={(least) => set({ least })}
          />
        </Labelled>
        <Labelled id="most" wording={t("No more than")}>
          <MoneyBox
            id="most"
            digits={digits}
            prefix={draft.currency}
            value={limits.most}
            onChange={(most) => set({ most })}
          />
        </Labelled>
        {limits.least !== undefined && (
          <Labelled id="least_label" wording={t("What is missing to it, on the slip as")}>
            <Input
              id="least_label"
              placeholder={t("Up to the least price")}
              value={limits.least_label ?? ""}
              onChange={(e) => set({ least_label: e.target.value || undefined })}
            />
          </Labelled>
        )}
        {limits.most !== undefined && (
          <Labelled id="most_label" wording={t("What is beyond it, on the slip as")}>
            <Input
              id="most_label"
              placeholder={t("Down to the most")}
              value={limits.most_label ?? ""}
              onChange={(e) => set({ most_label: e.target.value || undefined })}
            />
          </Labelled>
        )}
      </div>
    </section>
  );
}
