import { useQuery } from "@tanstack/react-query";
import { Button, Checkbox, Segmented, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, money, span } from "../../shared/format";
import { WholeBox } from "../../shared/questions/boxes";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";
import { MoneyTabs } from "../Tabs";
import { LateLines } from "../work/LateLines";
import { useLoad } from "../work/Work";
import "./earnings.css";

type Wish = Schemas["WhatIf"];
type Outcome = Schemas["WhatIfOutcome"];

// WhatIf does the work of earlier orders again with other prices, minutes, hours or
// people, beside how it is now. Nothing is kept unless it is taken over.
export function WhatIf() {
  const { t } = useTranslation();
  const products = useQuery({ queryKey: ["products"], queryFn: () => take(api.GET("/api/desk/products")) });
  const load = useLoad();
  const named = load.data?.people ?? [];
  // where nobody is named, whoever works does when the business does
  const people =
    named.length > 0 || !load.data ? named : [{ id: 0, name: t("whoever works when it is open") }];
  const [wish, setWish] = useState<Wish>({ of: "last", products: [], people: [], more: [] });
  const [compared, setCompared] = useState<Wish>();
  const [taken, setTaken] = useState<Schemas["WhatIfTaken"]>();
  const compare = useChange({
    send: (body: Wish) => take(api.POST("/api/desk/what-if", { body })),
    done: (_, body) => {
      setCompared(body);
      setTaken(undefined);
    },
  });
  const over = useChange({
    once: true,
    send: (body: Wish) => take(api.POST("/api/desk/what-if/take", { body })),
    // it holds now, and is wished no more
    done: (of) => {
      setTaken(of);
      setCompared(undefined);
      setWish((w) => ({ of: w.of, products: [], people: [], more: [] }));
    },
    refreshes: ["products", "product", "settings", "load"],
  });
  const product = (id: number, part: Partial<Schemas["WhatIfProduct"]>) =>
    setWish((w) => ({ ...w, products: merged(w.products, "product", id, { product: id, ...part }) }));
  const person = (id: number, part: Partial<Schemas["WhatIfPerson"]>) =>
    setWish((w) => ({ ...w, people: merged(w.people, "person", id, { person: id, ...part }) }));
  const sold = (products.data ?? []).filter((p) => p.edition > 0);
  const prices = compared?.products.some((p) => p.price || p.minutes || p.learned);
  const hours = compared && (compared.people.some((p) => p.hours) || (compared.more ?? []).length > 0);
  return (
    <main className="desk-page wide">
      <h1>{t("Money")}</h1>
      <MoneyTabs />
      <h2>{t("What if")}</h2>
      <p className="quiet">
        {t(
          "Earlier orders are worked on again, with what you change here, beside how it is now. That as many would have been ordered is taken for granted.",
        )}
      </p>
      <div className="what-if-columns">
        <div className="stack">
          <Segmented
            aria-label={t("Which orders")}
            value={wish.of}
            onChange={(of) => setWish((w) => ({ ...w, of: of as Wish["of"] }))}
            options={[
              { value: "last", label: t("the last 200 orders") },
              { value: "year", label: t("those of the last year") },
            ]}
          />
          <table className="what-if-wish">
            <thead>
              <tr>
                <th>{t("Product")}</th>
                <th>{t("Prices")}</th>
                <th>{t("Minutes")}</th>
                <th>{t("Learned minutes")}</th>
              </tr>
            </thead>
            <tbody>
              {sold.map((p) => {
                const w = wish.products.find((x) => x.product === p.id);
                return (
                  <tr key={p.id}>
                    <td>{p.title}</td>
                    <td className="percent">
                      <WholeBox
                        id={`price-${p.id}`}
                        label={t("Prices of {{what}}, per cent more", { what: p.title })}
                        suffix="%"
                        placeholder="0"
                        value={w?.price}
                        onChange={(price) => product(p.id, { price })}
                      />
                    </td>
                    <td className="percent">
                      <WholeBox
                        id={`minutes-${p.id}`}
                        label={t("Minutes of {{what}}, per cent more", { what: p.title })}
                        suffix="%"
                        placeholder="0"
                        value={w?.minutes}
                        onChange={(n) => product(p.id, { minutes: n })}
                      />
                    </td>
                    <td>
                      <Checkbox
                        aria-label={t("Learned minutes of {{what}}", { what: p.title })}
                        checked={w?.learned ?? false}
                        onChange={(e) => product(p.id, { learned: e.target.checked || undefined })}
                      />
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          {people.length > 0 && (
            <table className="what-if-wish">
              <thead>
                <tr>
                  <th>{t("Person")}</th>
                  <th>{t("Hours")}</th>
                </tr>
              </thead>
              <tbody>
                {people.map((p) => (
                  <tr key={p.id}>
                    <td>{p.name}</td>
                    <td className="percent">
                      <WholeBox
                        id={`hours-${p.id}`}
                        label={t("Hours of {{who}}, per cent more", { who: p.name })}
                        suffix="%"
                        placeholder="0"
                        value={wish.people.find((x) => x.person === p.id)?.hours}
                        onChange={(hours) => person(p.id, { hours })}
                      />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {people.length > 0 && (
            <div className="row more">
              <span>{t("Further people, each like")}</span>
              <Select
                aria-label={t("Further people, each like")}
                mode="multiple"
                value={wish.more}
                onChange={(more) => setWish((w) => ({ ...w, more }))}
                options={people.map((p) => ({ value: p.id, label: p.name }))}
              />
            </div>
          )}
        </div>
        <div className="stack what-if-result" aria-live="polite">
          <Trouble error={compare.problem} />
          <div>
            <Button type="primary" loading={compare.busy} onClick={() => compare.send(wish)}>
              {t("Compare")}
            </Button>
          </div>
          {compare.busy && <p role="status">{t("The orders are being worked on again …")}</p>}
          {compare.data && <Both v={compare.data} />}
          <Trouble error={over.problem} />
          {compared && compared !== wish && !compare.busy && (
            <p className="small quiet">{t("You changed something since: compare again.")}</p>
          )}
          {compared && compared === wish && (prices || hours) && (
            <div>
              <Button loading={over.busy} onClick={() => over.send(compared)}>
                {t("Take it over")}
              </Button>
              <div className="small quiet">
                {prices && <div>{t("Prices and minutes go into the drafts.")}</div>}
                {hours && (
                  <div>
                    {t("Hours and people go into the settings, from now on: promises and bookings follow.")}
                  </div>
                )}
              </div>
            </div>
          )}
          {taken && <Taken of={taken} />}
        </div>
      </div>
    </main>
  );
}

// Taken tells what was taken over, and takes hours and people back.
function Taken({ of }: { of: Schemas["WhatIfTaken"] }) {
  const { t } = useTranslation();
  const back = useChange({
    once: true,
    send: (version: number) => take(api.POST("/api/desk/settings/undo", { body: { version } })),
    refreshes: ["settings", "load"],
  });
  const { settings } = of;
  return (
    <div className="notice good" role="status">
      {of.products.length > 0 && (
        <div>
          {t("The prices and minutes are in the drafts. They hold once those are published.")}{" "}
          {of.products.map((p) => (
            <div key={p.id}>
              <Link to={`/products/${p.id}`}>{p.draft.title}</Link>
            </div>
          ))}
        </div>
      )}
      {settings !== undefined && back.done && <div>{t("The settings are as before.")}</div>}
      {settings !== undefined && !back.done && (
        <div className="row">
          <span className="grow">
            {of.people.length > 0
              ? t("The settings have the hours, and {{who}}: rename them there.", {
                  who: of.people.join(", "),
                })
              : t("The settings have the hours.")}{" "}
            <Link to="/settings">{t("Settings")}</Link>
          </span>
          <Button size="small" loading={back.busy} onClick={() => back.send(settings)}>
            {t("Undo")}
          </Button>
        </div>
      )}
      <Trouble error={back.problem} />
    </div>
  );
}

// merged gives a list with the entry of an id changed, or added.
function merged<T>(list: T[], key: keyof T, id: number, next: T): T[] {
  const at = list.findIndex((x) => x[key] === id);
  if (at < 0) return [...list, next];
  return list.map((x, i) => (i === at ? { ...x, ...next } : x));
}

function Both({ v }: { v: Schemas["WhatIfView"] }) {
  const { t } = useTranslation();
  const { today } = useHere();
  if (v.now.orders === 0) return <div className="empty">{t("Nothing was ordered in that time.")}</div>;
  const most = Math.max(1, ...[...v.now.weeks, ...v.changed.weeks].map((w) => Math.max(w.free, w.worked)));
  const rows: [string, (o: Outcome) => number | undefined, (n: number) => string][] = [
    [t("Income, without tax"), (o) => o.income, (n) => money(n, v.currency)],
    [t("Left after fees and cost"), (o) => o.left, (n) => money(n, v.currency)],
    [t("Work"), (o) => o.minutes, span],
    [t("An hour earns"), (o) => o.per_hour, (n) => money(n, v.currency)],
    [t("Late orders"), (o) => o.late_orders, String],
    [t("Late days together"), (o) => o.late_days, String],
    [t("Not done in that time"), (o) => o.undone, String],
  ];
  return (
    <>
      <p className="small quiet">
        {t("{{count}} orders, {{from}} to {{to}}", {
          count: v.now.orders,
          from: day(v.from, today),
          to: day(v.to, today),
        })}
      </p>
      <table className="what-if-both">
        <thead>
          <tr>
            <th />
            <th scope="col">{t("as it is")}</th>
            <th scope="col">{t("what if")}</th>
            <th scope="col">{t("difference")}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, of, write]) => {
            const now = of(v.now);
            const then = of(v.changed);
            const more = (then ?? 0) - (now ?? 0);
            return (
              <tr key={name}>
                <th scope="row">{name}</th>
                <td className="num">{now === undefined ? "–" : write(now)}</td>
                <td className="num">{then === undefined ? "–" : write(then)}</td>
                <td className="num">
                  {more === 0 ? "–" : `${more > 0 ? "+" : "−"}${write(Math.abs(more))}`}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <Weeks title={t("Load by week, as it is")} weeks={v.now.weeks} most={most} />
      <Weeks title={t("Load by week, what if")} weeks={v.changed.weeks} most={most} />
      {v.changed.late.length > 0 && (
        <details>
          <summary>{t("What would have been late")}</summary>
          <LateLines list={v.changed.late} />
        </details>
      )}
    </>
  );
}

const wide = 520;
const high = 110;

// Weeks draws how full each week is: its work within the hours that people have, on a
// scale of so many minutes.
function Weeks({ title, weeks, most }: { title: string; weeks: Schemas["WhatIfWeek"][]; most: number }) {
  const { t } = useTranslation();
  const { today } = useHere();
  const step = (wide - 16) / Math.max(weeks.length, 1);
  const tall = (n: number) => (n / most) * (high - 32);
  return (
    <figure className="week-plot">
      <figcaption className="small">{title}</figcaption>
      <svg viewBox={`0 0 ${wide} ${high}`} role="img" aria-label={title}>
        {weeks.map((w, i) => (
          <g key={w.monday}>
            <title>
              {t("week of {{day}}: {{worked}} of {{free}}", {
                day: day(w.monday, today),
                worked: span(w.worked),
                free: span(w.free),
              })}
            </title>
            <rect
              className="free"
              x={8 + i * step}
              width={step * 0.8}
              y={high - 20 - tall(w.free)}
              height={tall(w.free)}
            />
            <rect
              className={w.worked > w.free * 0.9 ? "over" : "worked"}
              x={8 + i * step + step * 0.15}
              width={step * 0.5}
              y={high - 20 - tall(w.worked)}
              height={tall(w.worked)}
            />
          </g>
        ))}
        <text className="scale" x={8} y={high - 6}>
          {weeks[0] && day(weeks[0].monday, today)}
        </text>
        <text className="scale" x={wide - 8} y={high - 6} textAnchor="end">
          {weeks.at(-1) && day(weeks.at(-1)?.monday ?? "", today)}
        </text>
        <text className="scale" x={8} y={12}>
          {span(most)}
        </text>
      </svg>
    </figure>
  );
}
