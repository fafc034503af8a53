import { Select } from "antd";
import { useTranslation } from "react-i18next";
import { digits } from "../../shared/currency";
import { plain } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";

type Props = {
  id: string;
  value?: number;
  change: (value: number | undefined) => void;
  currency: string;
};

// RoundTo chooses what totals in a currency are rounded to.
export function RoundTo({ id, value, change, currency }: Props) {
  const { t } = useTranslation();
  const places = digits(currency);
  return (
    <Labelled
      id={id}
      wording={t("Totals are rounded to")}
      help={t("As there is no smaller coin; in a row of its own.")}
    >
      <Select
        id={id}
        value={value ?? 0}
        onChange={(n) => change(n || undefined)}
        options={[0, ...[5, 10, 50, 100].map((n) => (places === 0 ? n * 10 : n))].map((step) => ({
          value: step,
          label: step === 0 ? t("not rounded") : plain(step, currency),
        }))}
      />
    </Labelled>
  );
}
