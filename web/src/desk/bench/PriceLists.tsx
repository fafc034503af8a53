import { useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { digits } from "../../shared/currency";
import { plainFine } from "../../shared/format";
import { FineBox, MoneyBox } from "../../shared/questions/boxes";
import type { Draft } from "./draft";
import { useTrial } from "./trial";

type List = NonNullable<Draft["price_lists"]>[number];
type Listed = NonNullable<List["amounts"]>[string];
type Asked = Schemas["AmountAsked"];

type Props = { draft: Draft; change: (d: Draft) => void };

// PriceLists edits what the product costs in further currencies: each of its
// amounts beside the one in its own. Nothing is converted.
export function PriceLists({ draft, change }: Props) {
  const { t } = useTranslation();
  const terms = useQuery({ queryKey: ["terms"], queryFn: () => take(api.GET("/api/desk/terms")) });
  const lists = draft.price_lists ?? [];
  const put = (next: List[]) => change({ ...draft, price_lists: next.length > 0 ? next : undefined });
  const sold = [terms.data?.currency, ...(terms.data?.further ?? []).map((f) => f.currency)];
  const more = sold.filter(
    (c) => c !== undefined && c !== draft.currency && !lists.some((l) => l.currency === c),
  );
  if (lists.length === 0 && more.length === 0) return null;
  return (
    <section>
      <h3>{t("In other currencies")}</h3>
      {lists.map((l, i) => (
        <Amounts
          key={l.currency}
          list={l}
          draft={draft}
          change={(amounts) => put(lists.with(i, { ...l, amounts }))}
          drop={() => put(lists.toSpliced(i, 1))}
        />
      ))}
      {more.length > 0 && (
        <Select
          aria-label={t("Add a price list")}
          className="add-from"
          value={null}
          placeholder={t("add a price list")}
          onChange={(c: string | null) => c !== null && put([...lists, { currency: c, amounts: {} }])}
          options={more.map((c) => ({ value: c, label: c }))}
        />
      )}
      <p className="quiet small">
        <Link to="/money/terms">{t("In which currencies you sell")}</Link>
      </p>
    </section>
  );
}

type AmountsProps = {
  list: List;
  draft: Draft;
  change: (amounts: Record<string, Listed>) => void;
  drop: () => void;
};

function Amounts({ list, draft, change, drop }: AmountsProps) {
  const { t } = useTranslation();
  const asked = useTrial()?.listable ?? [];
  const given = list.amounts ?? {};
  const missing = asked.filter((a) => !has(given[a.place], a)).length;
  const set = (a: Asked, part: Partial<Listed> | undefined) => {
    const { [a.place]: old, ...rest } = given;
    change(
      part === undefined
        ? rest
        : {
            ...rest,
            [a.place]: { ...old, ...part, was: a.formula ? undefined : a.was, was_formula: a.formula },
          },
    );
  };
  return (
    <div className="price-list">
      <div className="row">
        <strong className="grow">{list.currency}</strong>
        <span className="quiet small" role="status">
          {missing > 0 ? t("{{count}} amounts are missing", { count: missing }) : t("whole")}
        </span>
        <Button size="small" aria-label={t("Take {{what}} away", { what: list.currency })} onClick={drop}>
          ×
        </Button>
      </div>
      <table className="price-list-table">
        <thead>
          <tr>
            <th scope="col">{t("Amount")}</th>
            <th scope="col" className="num">
              {draft.currency}
            </th>
            <th scope="col">{list.currency}</th>
          </tr>
        </thead>
        <tbody>
          {asked.map((a) => (
            <Row
              key={a.place}
              a={a}
              listed={given[a.place]}
              own={draft.currency}
              currency={list.currency}
              set={(part) => set(a, part)}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

const has = (l: Listed | undefined, a: Asked) =>
  a.formula === undefined ? Boolean(l?.amount) : Boolean(l?.formula?.trim());

type RowProps = {
  a: Asked;
  listed?: Listed;
  own: string;
  currency: string;
  set: (part: Partial<Listed> | undefined) => void;
};

// Row is one amount, in the product's own currency and in the list's.
function Row({ a, listed, own, currency, set }: RowProps) {
  const { t } = useTranslation();
  const name = a.of ? `${a.of}: ${a.what}` : a.what;
  const label = t("{{what}} in {{currency}}", { what: name, currency });
  const id = `list-${currency}-${a.place}`;
  const old =
    has(listed, a) &&
    (a.formula === undefined ? (listed?.was ?? 0) !== a.was : listed?.was_formula !== a.formula);
  const Box = Number.isInteger(a.was) ? MoneyBox : FineBox;
  return (
    <tr>
      <th scope="row">{name}</th>
      <td className="num">{a.formula ?? plainFine(a.was, own)}</td>
      <td>
        {a.formula === undefined ? (
          <Box
            id={id}
            label={label}
            digits={digits(currency)}
            value={listed?.amount}
            onChange={(amount) => set(amount === undefined ? undefined : { amount })}
          />
        ) : (
          <Input
            id={id}
            className="code"
            aria-label={label}
            placeholder={a.formula}
            value={listed?.formula ?? ""}
            onChange={(e) => set(e.target.value === "" ? undefined : { formula: e.target.value })}
          />
        )}
        {a.formula !== undefined && !has(listed, a) && (
          <button type="button" className="linkish small" onClick={() => set({ formula: a.formula })}>
            {t("the same formula")}
            <span className="sr"> {label}</span>
          </button>
        )}
        {old && (
          <div className="small">
            <span className="mark attention">
              ▲{" "}
              {a.formula === undefined
                ? t("given at {{amount}} {{currency}}", {
                    amount: plainFine(listed?.was ?? 0, own),
                    currency: own,
                  })
                : t("given for another formula")}
            </span>{" "}
            <button type="button" className="linkish" onClick={() => set({})}>
              {t("it is right")}
              <span className="sr"> {label}</span>
            </button>
          </div>
        )}
      </td>
    </tr>
  );
}
