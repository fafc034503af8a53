import { useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { weekdays } from "../../shared/format";
import { DecimalBox, MoneyBox, WholeBox } from "../../shared/questions/boxes";
import { useSeasons } from "../../shared/questions/seasons";
import { useToday } from "../../shared/today";

type Special = Schemas["Special"];
type Combine = Schemas["Combine"];
type Props = {
  id: string;
  prices: Special[];
  combine?: Combine;
  change: (prices: Special[] | undefined, combine: Combine | undefined) => void;
  digits: number;
  currency: string;
};

// useGroups gives the customer groups to choose from, undefined until they are known.
export function useGroups() {
  const groups = useQuery({ queryKey: ["groups"], queryFn: () => take(api.GET("/api/desk/groups")) });
  return groups.data ?? (groups.isError ? [] : undefined);
}

// What another price can hang on, and what it begins with.
const hangs = {
  group: { group: "" },
  days: {},
  weekdays: { weekdays: [6, 0] },
  hours: { hours: "18:00-22:00" },
  left: { left: 3 },
  season: { season: "" },
  units: { at_least: 2 },
} satisfies Record<string, Partial<Special>>;
type Hang = keyof typeof hangs;

const has: Record<Hang, (s: Special) => boolean> = {
  group: (s) => s.group !== undefined,
  days: (s) => s.from !== undefined || s.to !== undefined,
  weekdays: (s) => s.weekdays !== undefined,
  hours: (s) => s.hours !== undefined,
  left: (s) => s.left !== undefined,
  season: (s) => s.season !== undefined,
  units: (s) => s.at_least !== undefined,
};

const without: Record<Hang, Partial<Special>> = {
  group: { group: undefined },
  days: { from: undefined, to: undefined, booked: undefined },
  weekdays: { weekdays: undefined },
  hours: { hours: undefined },
  left: { left: undefined },
  season: { season: undefined },
  units: { at_least: undefined },
};

// Specials edits other prices: what each costs, and what it hangs on. Which of
// those that hold is taken can be chosen once there are several.
export function Specials({ id, prices, combine, change, digits, currency }: Props) {
  const { t } = useTranslation();
  const set = (i: number, s: Special) => change(prices.with(i, s), combine);
  return (
    <div className="specials">
      {prices.map((s, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a price is known by its place
        <div key={i} className="special">
          <One
            id={`${id}-${i + 1}`}
            n={i + 1}
            s={s}
            set={(next) => set(i, next)}
            digits={digits}
            currency={currency}
            drop={() => {
              const next = prices.toSpliced(i, 1);
              change(next.length > 0 ? next : undefined, next.length > 1 ? combine : undefined);
            }}
          />
        </div>
      ))}
      <div className="row">
        <Button size="small" onClick={() => change([...prices, { at_least: 2, percent: "10" }], combine)}>
          {t("Add another price")}
        </Button>
        {prices.length > 1 && (
          <Select
            aria-label={t("Which other price is taken")}
            value={combine ?? ""}
            onChange={(v: Combine) => change(prices, v || undefined)}
            options={[
              { value: "", label: t("of those that hold, the lowest") },
              { value: "last", label: t("of those that hold, the last in this list") },
              { value: "sum", label: t("all that hold, together") },
            ]}
          />
        )}
      </div>
    </div>
  );
}

type OneProps = {
  id: string;
  n: number;
  s: Special;
  set: (s: Special) => void;
  drop: () => void;
  digits: number;
  currency: string;
};

function One({ id, n, s, set, drop, digits, currency }: OneProps) {
  const { t } = useTranslation();
  const today = useToday();
  const seasons = useSeasons();
  const name = (what: string) => `${what}, ${t("other price {{n}}", { n })}`;
  const words: Record<Hang, string> = {
    group: t("a group"),
    days: t("some days"),
    weekdays: t("weekdays"),
    hours: t("a time of day"),
    left: t("places left"),
    season: t("a season"),
    units: t("a number of units"),
  };
  const used = (Object.keys(hangs) as Hang[]).filter((h) => has[h](s));
  const how = `${s.dearer ? "more" : "less"} ${s.percent !== undefined ? "percent" : "amount"}`;
  return (
    <>
      <div className="row">
        <Input
          className="special-label"
          aria-label={name(t("Called"))}
          placeholder={t("called")}
          value={s.label ?? ""}
          onChange={(e) => set({ ...s, label: e.target.value || undefined })}
        />
        <Select
          aria-label={name(t("How it is given"))}
          value={how}
          onChange={(v) => {
            const [way, as] = v.split(" ");
            const rate = as === "percent" ? { percent: s.percent ?? "10" } : { amount: s.amount ?? 100 };
            set({
              ...s,
              amount: undefined,
              percent: undefined,
              ...rate,
              dearer: way === "more" || undefined,
            });
          }}
          options={[
            { value: "less amount", label: t("costs") },
            { value: "less percent", label: t("per cent less") },
            { value: "more amount", label: t("an amount more") },
            { value: "more percent", label: t("per cent more") },
          ]}
        />
        <span className="charge-box">
          {s.percent !== undefined ? (
            <DecimalBox
              id={`${id}-portion`}
              label={name(t("Per cent"))}
              suffix="%"
              value={s.percent}
              onChange={(percent) => percent !== undefined && set({ ...s, percent })}
            />
          ) : (
            <MoneyBox
              id={`${id}-portion`}
              label={name(t("Amount"))}
              digits={digits}
              prefix={currency}
              value={s.amount}
              onChange={(amount) => amount !== undefined && set({ ...s, amount })}
            />
          )}
        </span>
        <Button size="small" aria-label={t("Take other price {{n}} away", { n })} onClick={drop}>
          ×
        </Button>
      </div>
      {used.map((h) => (
        <div key={h} className="row special-when small">
          <span className="quiet">{t("only for")}</span>
          <When id={id} h={h} s={s} set={set} name={name} />
          <Button
            size="small"
            aria-label={name(t("Not only for {{what}}", { what: words[h] }))}
            onClick={() => set({ ...s, ...without[h] })}
          >
            ×
          </Button>
        </div>
      ))}
      {used.length < Object.keys(hangs).length && (
        <div className="row special-when small">
          <Select
            aria-label={name(t("What it hangs on"))}
            className="special-hang"
            value={null}
            placeholder={t("and only for …")}
            onChange={(h: Hang | null) =>
              h !== null &&
              set({
                ...s,
                ...hangs[h],
                ...(h === "days" ? { from: today } : {}),
                ...(h === "season" ? { season: seasons[0] } : {}),
              })
            }
            options={(Object.keys(hangs) as Hang[])
              .filter((h) => !used.includes(h) && (h !== "season" || seasons.length > 0))
              .map((h) => ({ value: h, label: words[h] }))}
          />
        </div>
      )}
    </>
  );
}

type WhenProps = {
  id: string;
  h: Hang;
  s: Special;
  set: (s: Special) => void;
  name: (what: string) => string;
};

// When asks for one thing that another price hangs on.
function When({ id, h, s, set, name }: WhenProps) {
  const { t, i18n } = useTranslation();
  const groups = useGroups() ?? [];
  const seasons = useSeasons();
  const [from = "", to = ""] = (s.hours ?? "").split("-");
  switch (h) {
    case "season":
      return (
        <Select
          aria-label={name(t("For the season"))}
          value={s.season}
          onChange={(season) => set({ ...s, season })}
          options={seasons.map((x) => ({ value: x, label: x }))}
        />
      );
    case "group":
      return (
        <Select
          aria-label={name(t("For the group"))}
          className="special-group"
          value={s.group}
          onChange={(group) => set({ ...s, group })}
          options={[
            ...groups.map((g) => ({ value: g.key, label: g.name })),
            ...(s.group && !groups.some((g) => g.key === s.group)
              ? [{ value: s.group, label: s.group }]
              : []),
          ]}
        />
      );
    case "days":
      return (
        <>
          <label className="row">
            {t("from")}
            <input
              type="date"
              className="plain-field"
              aria-label={name(t("First day"))}
              value={s.from ?? ""}
              onChange={(e) => set({ ...s, from: e.target.value || undefined })}
            />
          </label>
          <label className="row">
            {t("to")}
            <input
              type="date"
              className="plain-field"
              aria-label={name(t("Last day"))}
              value={s.to ?? ""}
              onChange={(e) => set({ ...s, to: e.target.value || undefined })}
            />
          </label>
          <Select
            size="small"
            aria-label={name(t("Which day is looked at"))}
            value={s.booked ?? false}
            onChange={(booked) => set({ ...s, booked: booked || undefined })}
            options={[
              { value: false, label: t("by the day of the order, or of each night") },
              { value: true, label: t("by the day that is booked") },
            ]}
          />
        </>
      );
    case "weekdays":
      return (
        <Select
          mode="multiple"
          aria-label={name(t("On weekdays"))}
          className="special-days"
          value={s.weekdays ?? []}
          onChange={(days: number[]) => set({ ...s, weekdays: days })}
          options={weekdays(i18n.language)}
        />
      );
    case "hours": {
      const put = (a: string, b: string) => set({ ...s, hours: `${a}-${b}` });
      return (
        <>
          <label className="row">
            {t("begins from")}
            <input
              type="time"
              className="plain-field"
              aria-label={name(t("Begins from"))}
              value={from}
              onChange={(e) => e.target.value && put(e.target.value, to)}
            />
          </label>
          <label className="row">
            {t("to before")}
            <input
              type="time"
              className="plain-field"
              aria-label={name(t("To before"))}
              value={to === "24:00" ? "00:00" : to}
              onChange={(e) =>
                e.target.value && put(from, e.target.value === "00:00" ? "24:00" : e.target.value)
              }
            />
          </label>
        </>
      );
    }
    case "left":
      return (
        <label className="row" htmlFor={`${id}-left`}>
          {t("places left, at most")}
          <span className="charge-box narrow">
            <WholeBox
              id={`${id}-left`}
              label={name(t("Places left, at most"))}
              value={s.left}
              onChange={(left) => left !== undefined && set({ ...s, left })}
            />
          </span>
        </label>
      );
    case "units":
      return (
        <label className="row" htmlFor={`${id}-units`}>
          {t("from units")}
          <span className="charge-box narrow">
            <WholeBox
              id={`${id}-units`}
              label={name(t("From so many units on"))}
              value={s.at_least}
              onChange={(v) => v !== undefined && set({ ...s, at_least: v })}
            />
          </span>
        </label>
      );
  }
}
