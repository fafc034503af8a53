import { Button, Checkbox, Input } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { Labelled } from "../../shared/Labelled";
import { DecimalBox, MoneyBox } from "../../shared/questions/boxes";

type TipProps = {
  tip?: Schemas["Tip"];
  change: (tip: Schemas["Tip"] | undefined) => void;
  places: number;
  currency: string;
  // tells the fields of one currency from those of another
  prefix?: string;
};

// TipTerms edits what customers can give on top, in one currency.
export function TipTerms({ tip, change, places, currency, prefix = "" }: TipProps) {
  const { t } = useTranslation();
  return (
    <section className="sheet">
      <h2>{t("What customers can give on top")}</h2>
      <Checkbox
        checked={tip !== undefined}
        onChange={(e) =>
          change(
            e.target.checked
              ? { label: t("Something on top"), suggestions: [200, 500], tax: "0" }
              : undefined,
          )
        }
      >
        {t("asked for at checkout")}
      </Checkbox>
      {tip && (
        <div className="pair">
          <Labelled id={`${prefix}tip-label`} wording={t("What people read")}>
            <Input
              id={`${prefix}tip-label`}
              value={tip.label}
              onChange={(e) => change({ ...tip, label: e.target.value })}
            />
          </Labelled>
          <Labelled id={`${prefix}tip-tax`} wording={t("Taxed")}>
            <DecimalBox
              id={`${prefix}tip-tax`}
              suffix="%"
              value={tip.tax}
              onChange={(tax) => change({ ...tip, tax: tax ?? "0" })}
            />
          </Labelled>
          <Labelled id={`${prefix}tip-least`} wording={t("At least")}>
            <MoneyBox
              id={`${prefix}tip-least`}
              digits={places}
              prefix={currency}
              value={tip.least || undefined}
              onChange={(least) => change({ ...tip, least })}
            />
          </Labelled>
          <Labelled id={`${prefix}tip-most`} wording={t("At most")}>
            <MoneyBox
              id={`${prefix}tip-most`}
              digits={places}
              prefix={currency}
              value={tip.most || undefined}
              onChange={(most) => change({ ...tip, most })}
            />
          </Labelled>
          <Labelled id={`${prefix}tip-suggestions`} wording={t("Suggestions")}>
            <div className="row">
              {(tip.suggestions ?? []).map((a, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: a suggestion is known by its place
                <span className="charge-box" key={i}>
                  <MoneyBox
                    id={`${prefix}tip-suggestion-${i}`}
                    label={t("Suggestion {{n}}", { n: i + 1 })}
                    digits={places}
                    value={a}
                    onChange={(n) =>
                      change({
                        ...tip,
                        suggestions: n
                          ? (tip.suggestions ?? []).with(i, n)
                          : (tip.suggestions ?? []).toSpliced(i, 1),
                      })
                    }
                  />
                </span>
              ))}
              <Button
                size="small"
                onClick={() =>
                  change({ ...tip, suggestions: [...(tip.suggestions ?? []), tip.least || 1000] })
                }
              >
                {t("Add a suggestion")}
              </Button>
            </div>
          </Labelled>
        </div>
      )}
    </section>
  );
}
