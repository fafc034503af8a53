import { Button, Checkbox, Select } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../shared/api/client";
import { WholeBox } from "../shared/questions/boxes";
import { PortionBox } from "./PortionBox";

type Rule = Schemas["CancelRule"];

type Props = {
  rules: Rule[];
  change: (rules: Rule[]) => void;
  digits: number;
  currency: string;
};

// CancelRules edits what comes back when something is cancelled. The first rule
// holds whose time it is, so their order counts.
export function CancelRules({ rules, change, digits, currency }: Props) {
  const { t } = useTranslation();
  return (
    <>
      <ol className="cancel-rules">
        {rules.map((r, i) => {
          const n = i + 1;
          const name = (what: string) => t("{{what}}, rule {{n}}", { what, n });
          const set = (part: Partial<Rule>) => change(rules.with(i, { ...r, ...part }));
          const counted = r.from === "placing" || r.from === "booking";
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: a rule is known by its place
            <li key={i} className="row">
              {counted && (
                <>
                  <span className="charge-box narrow">
                    <WholeBox
                      id={`cancel-count-${n}`}
                      label={name(t("How long"))}
                      value={r.count ?? 0}
                      onChange={(count) => set({ count })}
                    />
                  </span>
                  <Select
                    aria-label={name(t("Days or hours"))}
                    value={r.hours ?? false}
                    onChange={(hours) => set({ hours: hours || undefined })}
                    options={[
                      { value: false, label: t("days") },
                      { value: true, label: t("hours") },
                    ]}
                  />
                </>
              )}
              <Select
                aria-label={name(t("Until when"))}
                value={r.from}
                onChange={(from) =>
                  set(
                    from === "placing" || from === "booking"
                      ? { from, count: r.count ?? 14 }
                      : { from, count: undefined, hours: undefined },
                  )
                }
                options={[
                  { value: "placing", label: t("after the order at most") },
                  { value: "booking", label: t("before the booking at least") },
                  { value: "work", label: t("before work on it begins") },
                  { value: "always", label: t("at any time") },
                ]}
              />
              <PortionBox
                id={`cancel-back-${n}`}
                value={r}
                change={(next) => change(rules.with(i, next))}
                digits={digits}
                currency={currency}
                amount={t("comes back: an amount")}
                percent={t("comes back: per cent")}
                fresh={{ amount: 1000, percent: "100" }}
                name={name}
              />
              <Checkbox
                checked={r.asking ?? false}
                onChange={(e) => set({ asking: e.target.checked || undefined })}
              >
                {t("customers ask for it")}
              </Checkbox>
              <Button
                size="small"
                disabled={i === 0}
                aria-label={t("Move rule {{n}} up", { n })}
                onClick={() => change(rules.toSpliced(i, 1).toSpliced(i - 1, 0, r))}
              >
                ↑
              </Button>
              <Button
                size="small"
                aria-label={t("Take rule {{n}} away", { n })}
                onClick={() => change(rules.toSpliced(i, 1))}
              >
                ×
              </Button>
            </li>
          );
        })}
      </ol>
      <p className="quiet small">
        {rules.length > 0
          ? t("The first rule whose time it is holds. Beyond all of them nothing comes back by itself.")
          : t("Without a rule nothing comes back by itself, and customers write to you.")}
      </p>
      <Button
        size="small"
        onClick={() =>
          change([
            ...rules,
            rules.length === 0
              ? { from: "placing", count: 14, percent: "100" }
              : { from: "booking", count: 7, percent: "50" },
          ])
        }
      >
        {t("Add a rule")}
      </Button>
    </>
  );
}
