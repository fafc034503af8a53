import { Button, Checkbox } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { FineBox, WholeBox } from "../../shared/questions/boxes";

type Band = Schemas["Band"];

type Props = {
  id: string;
  // what they are the bands of, for those who do not see where they stand
  of: string;
  bands: Band[];
  graduated?: boolean;
  // how many are free, after which a first band can begin
  included?: number;
  // what a first band begins with
  amount?: number;
  digits: number;
  currency: string;
  change: (bands: Band[] | undefined, graduated: boolean | undefined) => void;
};

// Bands edits other rates from some number on: for all of them, or, graduated,
// for those of the band only.
export function Bands(p: Props) {
  const { t } = useTranslation();
  const { id, of, bands, graduated } = p;
  const put = (next: Band[]) =>
    next.length > 0 ? p.change(next, graduated) : p.change(undefined, undefined);
  const add = () => {
    const last = bands.at(-1);
    const after = (last?.after ?? p.included ?? 0) + 5;
    put([...bands, { after, amount: last?.amount ?? p.amount ?? 100 }]);
  };
  return (
    <div className="bands">
      {bands.map((b, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a band is known by its place
        <div key={i} className="row">
          <label htmlFor={`${id}-band-${i}`}>
            {t("more than")}
            <span className="charge-box">
              <WholeBox
                id={`${id}-band-${i}`}
                label={t("More than, band {{i}} of {{of}}", { i: i + 1, of })}
                value={b.after}
                onChange={(after) => after !== undefined && put(bands.with(i, { ...b, after }))}
              />
            </span>
          </label>
          <span className="charge-box">
            <FineBox
              id={`${id}-band-${i}-amount`}
              label={t("Amount, band {{i}} of {{of}}", { i: i + 1, of })}
              digits={p.digits}
              prefix={p.currency}
              value={b.amount}
              onChange={(amount) => amount !== undefined && put(bands.with(i, { ...b, amount }))}
            />
          </span>
          <Button
            size="small"
            aria-label={t("Take band {{i}} of {{of}} away", { i: i + 1, of })}
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
            checked={graduated ?? false}
            onChange={(e) => p.change(bands, e.target.checked || undefined)}
          >
            {t("each part at its own band")}
          </Checkbox>
        )}
      </div>
    </div>
  );
}
