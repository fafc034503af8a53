import { Button, Input } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../../shared/api/client";
import { Labelled } from "../../../shared/Labelled";
import { MoneyBox } from "../../../shared/questions/boxes";
import { useToday } from "../../../shared/today";
import { Edges } from "./Edges";

type Fixed = Schemas["FixedStay"];
type Props = {
  list: Fixed[];
  digits: number;
  currency: string;
  set: (list: Fixed[] | undefined) => void;
};

// FixedStays edits the stays that can be booked only whole.
export function FixedStays({ list, digits, currency, set }: Props) {
  const { t } = useTranslation();
  const today = useToday();
  const put = (i: number, part: Partial<Fixed>) => set(list.map((f, n) => (n === i ? { ...f, ...part } : f)));
  return (
    <div className="seasons">
      <p className="quiet small">{t("Booked only whole, and nothing else on these days.")}</p>
      {list.map((f, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a fixed stay is known by its place
        <div key={i} className="sheet season">
          <div className="row">
            <Input
              aria-label={t("Name of the stay")}
              value={f.name}
              maxLength={60}
              onChange={(e) => put(i, { name: e.target.value })}
            />
            <Button
              size="small"
              aria-label={t("Take {{name}} away", { name: f.name })}
              onClick={() => set(list.length > 1 ? list.toSpliced(i, 1) : undefined)}
            >
              ×
            </Button>
          </div>
          <Edges id={`fixed-${i}`} part={f} set={(part) => put(i, part)} />
          <Labelled
            id={`fixed-${i}-price`}
            wording={t("Price of the whole stay")}
            help={t("Without one, it costs what any other stay costs.")}
          >
            <MoneyBox
              id={`fixed-${i}-price`}
              digits={digits}
              prefix={currency}
              value={f.price}
              onChange={(price) => put(i, { price })}
            />
          </Labelled>
        </div>
      ))}
      <Button
        size="small"
        onClick={() => set([...list, { name: t("Fixed stay"), from: { day: today }, to: { day: today } }])}
      >
        {t("Add a fixed stay")}
      </Button>
    </div>
  );
}
