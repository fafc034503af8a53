import { Button, Checkbox } from "antd";
import { useTranslation } from "react-i18next";
import { MoneyBox, WholeBox } from "../../shared/questions/boxes";
import type { Charge } from "./draft";

type Props = { c: Charge; n: number; digits: number; currency: string; set: (c: Charge) => void };

// Bands edits other rates from some number on: for all of them, or, graduated,
// for those of the band only.
export function Bands({ c, n, digits, currency, set }: Props) {
  const { t } = useTranslation();
  const bands = c.bands ?? [];
  const put = (next: typeof bands) =>
    set(
      next.length > 0
        ? { ...c, bands: next, prices: undefined }
        : { ...c, bands: undefined, graduated: undefined },
    );
  const add = () => {
    const last = bands.at(-1);
    const after = (last?.after ?? c.included ?? 0) + 5;
    put([...bands, { after, amount: last?.amount ?? c.rate.amount ?? 100 }]);
  };
  return (
    <div className="bands">
      {bands.map((b, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a band is known by its place
        <div key={i} className="row">
          <label htmlFor={`charge-${n}-band-${i}`}>
            {t("more than")}
            <span className="charge-box">
              <WholeBox
                id={`charge-${n}-band-${i}`}
                label={t("More than, band {{i}} of charge {{n}}", { i: i + 1, n })}
                value={b.after}
                onChange={(after) => after !== undefined && put(bands.with(i, { ...b, after }))}
              />
            </span>
          </label>
          <span className="charge-box">
            <MoneyBox
              id={`charge-${n}-band-${i}-amount`}
              label={t("Amount, band {{i}} of charge {{n}}", { i: i + 1, n })}
              digits={digits}
              prefix={currency}
              value={b.amount}
              onChange={(amount) => amount !== undefined && put(bands.with(i, { ...b, amount }))}
            />
          </span>
          <Button
            size="small"
            aria-label={t("Take band {{i}} of charge {{n}} away", { i: i + 1, n })}
            onClick={() => put(bands.toSpliced(i, 1))}
          >
            ×
          </Button>
        </div>
      ))}
      <div className="row">
        <Button size="small" onClick={add}>
          {t("Add a band")}
        </Button>
        {bands.length > 0 && (
          <Checkbox
            checked={c.graduated ?? false}
            onChange={(e) => set({ ...c, graduated: e.target.checked || undefined })}
          >
            {t("each part at its own band")}
          </Checkbox>
        )}
      </div>
    </div>
  );
}
