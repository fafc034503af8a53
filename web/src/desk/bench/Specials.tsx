import { useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { WholeBox } from "../../shared/questions/boxes";
import { PortionBox } from "../PortionBox";

type Special = Schemas["Special"];
type Props = {
  id: string;
  prices: Special[];
  change: (prices: Special[] | undefined) => void;
  digits: number;
  currency: string;
};

// useGroups gives the customer groups to choose from.
export function useGroups() {
  return useQuery({ queryKey: ["groups"], queryFn: () => take(api.GET("/api/desk/groups")) }).data ?? [];
}

// Specials edits other prices: for a group, for days, from a number of units
// on. The lowest one that holds is taken.
export function Specials({ id, prices, change, digits, currency }: Props) {
  const { t } = useTranslation();
  const groups = useGroups();
  const set = (i: number, s: Special) => change(prices.with(i, s));
  return (
    <div className="specials">
      {prices.map((s, i) => {
        const n = i + 1;
        const name = (what: string) => `${what}, ${t("other price {{n}}", { n })}`;
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a price is known by its place
          <div key={i} className="special row">
            <Input
              className="special-label"
              aria-label={name(t("Called"))}
              placeholder={t("called")}
              value={s.label ?? ""}
              onChange={(e) => set(i, { ...s, label: e.target.value || undefined })}
            />
            <Select
              aria-label={name(t("For the group"))}
              className="special-group"
              value={s.group ?? ""}
              onChange={(group) => set(i, { ...s, group: group || undefined })}
              options={[
                { value: "", label: t("everybody") },
                ...groups.map((g) => ({ value: g.key, label: g.name })),
                ...(s.group && !groups.some((g) => g.key === s.group)
                  ? [{ value: s.group, label: s.group }]
                  : []),
              ]}
            />
            <label className="row small">
              {t("from")}
              <input
                type="date"
                className="plain-field"
                aria-label={name(t("First day"))}
                value={s.from ?? ""}
                onChange={(e) => set(i, { ...s, from: e.target.value || undefined })}
              />
            </label>
            <label className="row small">
              {t("to")}
              <input
                type="date"
                className="plain-field"
                aria-label={name(t("Last day"))}
                value={s.to ?? ""}
                onChange={(e) => set(i, { ...s, to: e.target.value || undefined })}
              />
            </label>
            <label className="row small" htmlFor={`${id}-${n}-units`}>
              {t("from units")}
              <span className="charge-box narrow">
                <WholeBox
                  id={`${id}-${n}-units`}
                  label={name(t("From so many units on"))}
                  value={s.at_least}
                  onChange={(v) => set(i, { ...s, at_least: v || undefined })}
                />
              </span>
            </label>
            <PortionBox
              id={`${id}-${n}-portion`}
              value={s}
              change={(next) => set(i, next)}
              digits={digits}
              currency={currency}
              amount={t("costs")}
              percent={t("per cent less")}
              fresh={{ amount: 100, percent: "10" }}
              name={name}
            />
            <Button
              size="small"
              aria-label={t("Take other price {{n}} away", { n })}
              onClick={() => {
                const next = prices.toSpliced(i, 1);
                change(next.length > 0 ? next : undefined);
              }}
            >
              ×
            </Button>
          </div>
        );
      })}
      <Button size="small" onClick={() => change([...prices, { at_least: 2, percent: "10" }])}>
        {t("Add another price")}
      </Button>
    </div>
  );
}
