import i18next from "i18next";
import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { longDay, money, plain, weekdays } from "../format";
import { add, monthOf, monthsApart, sheetOf } from "./days";
import type { BookableDay } from "./source";
import "./days.css";

type Props = {
  id: string;
  // by day; a day without one is closed
  days: Map<string, BookableDay>;
  // the month that is shown
  month: string;
  turnTo: (month: string) => void;
  // the last day on which there can be anything
  last: string;
  chosen?: string;
  // the other end of a stay, whose days between are marked
  until?: string;
  choose: (day: string) => void;
  // what is said of a day that cannot be chosen
  refuse?: (day: string) => void;
  today: string;
  disabled?: boolean;
  // what can be booked is not known yet: not of the month, or of none so far
  busy?: "month" | "all";
  labelledBy?: string;
  // of the prices of days
  currency?: string;
};

// The roles that the APG gives a table of days; the cells are focused by what is in
// them.
const asGrid = { role: "grid" };
const asCell = (on: boolean) => ({ role: "gridcell", "aria-selected": on });

// Months shows a month as a grid of days: at a glance which are free, which nearly
// full and which sold out. Arrows go from day to day, Home and End along the week,
// Page up and Page down from month to month, as in a date grid of the WAI-ARIA
// Authoring Practices.
export function Months(p: Props) {
  const {
    id,
    days,
    month,
    turnTo,
    last,
    chosen,
    until,
    choose,
    refuse,
    today,
    disabled,
    busy,
    labelledBy,
    currency,
  } = p;
  const { t } = useTranslation();
  const free = (d: string) => isFree(days.get(d));
  const begin = () =>
    chosen && monthOf(chosen) === month
      ? chosen
      : ([...days.keys()].sort().find((d) => monthOf(d) === month && free(d)) ??
        (monthOf(today) === month ? today : `${month}-01`));
  const [at, setAt] = useState(begin);
  const moved = useRef(false);
  const grid = useRef<HTMLTableElement>(null);
  // Where the keyboard stands when the month, or what is in it, is another one,
  // unless somebody went there by the keyboard.
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is chosen and free follows from these
  useEffect(() => {
    if (!moved.current || monthOf(at) !== month) setAt(begin());
  }, [month, days]);
  useEffect(() => {
    if (moved.current) grid.current?.querySelector<HTMLElement>(`[data-day="${at}"]`)?.focus();
  }, [at]);
  // A day that is pressed while its month is still looked for is taken once it is there.
  const waits = useRef<string>(undefined);
  const take = (d: string) => {
    if (disabled) return;
    if (free(d)) choose(d);
    else refuse?.(d);
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: only when the month is there
  useEffect(() => {
    if (busy || !waits.current) return;
    const d = waits.current;
    waits.current = undefined;
    if (monthOf(d) === month) take(d);
  }, [busy]);
  const priced = currency !== undefined && [...days.values()].some((d) => d.price !== undefined);
  const first = monthOf(today);
  const end = monthOf(last);
  const go = (day: string) => {
    const to = day < today ? today : day > last ? last : day;
    moved.current = true;
    if (monthOf(to) !== month) turnTo(monthOf(to));
    setAt(to);
  };
  const turn = (by: number) => {
    const next = monthsApart(month, by);
    if (next < first || next > end) return;
    moved.current = false;
    turnTo(next);
  };
  const press = (e: React.KeyboardEvent) => {
    const weekday = (new Date(`${at}T12:00:00Z`).getUTCDay() + 6) % 7;
    const to: Record<string, string> = {
      ArrowLeft: add(at, -1),
      ArrowRight: add(at, 1),
      ArrowUp: add(at, -7),
      ArrowDown: add(at, 7),
      Home: add(at, -weekday),
      End: add(at, 6 - weekday),
      PageUp: `${monthsApart(monthOf(at), -1)}-01`,
      PageDown: `${monthsApart(monthOf(at), 1)}-01`,
    };
    const day = to[e.key];
    if (day === undefined) return;
    e.preventDefault();
    go(day);
  };
  const name = new Intl.DateTimeFormat(i18next.language === "en" ? "en-GB" : i18next.language, {
    month: "long",
    year: "numeric",
    timeZone: "UTC",
  }).format(new Date(`${month}-15T12:00:00Z`));
  return (
    <div className="months">
      <div className="row months-head">
        <button
          type="button"
          className="months-turn"
          aria-label={t("Month before")}
          disabled={month <= first}
          onClick={() => turn(-1)}
        >
          ‹
        </button>
        <strong id={`${id}-month`} className="grow" aria-live="polite">
          {name}
        </strong>
        <button
          type="button"
          className="months-turn"
          aria-label={t("Month after")}
          disabled={month >= end}
          onClick={() => turn(1)}
        >
          ›
        </button>
      </div>
      <table
        ref={grid}
        {...asGrid}
        className={priced ? "months-grid priced" : "months-grid"}
        aria-busy={busy !== undefined}
        aria-labelledby={labelledBy ? `${labelledBy} ${id}-month` : `${id}-month`}
        onKeyDown={press}
      >
        <thead>
          <tr>
            {weekdays(i18next.language).map((w) => (
              <th key={w.value} scope="col">
                {w.label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {sheetOf(month).map((week) => (
            <tr key={week[0]}>
              {week.map((d) => (
                <td key={d} {...asCell(d === chosen)}>
                  {monthOf(d) === month && (
                    <Cell
                      day={d}
                      state={days.get(d)}
                      on={d === chosen || d === until}
                      between={chosen !== undefined && until !== undefined && d > chosen && d < until}
                      here={d === at}
                      disabled={disabled || busy !== undefined}
                      off={busy === "all"}
                      currency={currency}
                      choose={() => {
                        moved.current = true;
                        setAt(d);
                        if (busy) waits.current = d;
                        else take(d);
                      }}
                    />
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="small quiet months-key" aria-hidden="true">
        <span>● {t("free")}</span> <span>◔ {t("few left")}</span> <span>✕ {t("sold out")}</span>
      </p>
    </div>
  );
}

const isFree = (d?: BookableDay) => d?.state === "free" || d?.state === "few";

type CellProps = {
  day: string;
  state?: BookableDay;
  on: boolean;
  between: boolean;
  here: boolean;
  disabled?: boolean;
  off: boolean;
  currency?: string;
  choose: () => void;
};

function Cell({ day, state, on, between, here, disabled, off, currency, choose }: CellProps) {
  const { t } = useTranslation();
  const free = isFree(state);
  const said: Record<string, string> = {
    free: t("free"),
    few: t("{{count}} left", { count: state?.left }),
    sold_out: t("sold out"),
    closed: t("closed"),
  };
  const marks: Record<string, string> = { free: "●", few: `◔ ${state?.left}`, sold_out: "✕", closed: "" };
  return (
    <button
      type="button"
      data-day={day}
      disabled={off}
      tabIndex={here ? 0 : -1}
      className={`months-day${on ? " on" : ""}${between ? " between" : ""}${free ? " free" : ""}`}
      aria-label={`${longDay(day)}: ${said[state?.state ?? "closed"]}${state?.price !== undefined && currency ? `, ${money(state.price, currency)}` : ""}${state?.why ? `. ${state.why}` : ""}`}
      aria-disabled={!free || disabled === true}
      onClick={choose}
    >
      <span className="num">{Number(day.slice(8))}</span>
      <span className="months-state" aria-hidden="true">
        {marks[state?.state ?? "closed"]}
      </span>
      {state?.price !== undefined && currency && (
        <span className="months-price num">{plain(state.price, currency).replace(/[.,]00$/, "")}</span>
      )}
    </button>
  );
}
