import i18next from "i18next";
import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { longDay, weekdays } from "../format";
import { add, monthOf, monthsApart, sheetOf } from "./days";
import "./days.css";

// What a day of the grid is: how many places are left of so many.
export type DayState = { left: number; few: boolean };

type Props = {
  id: string;
  // the days on which there is something, the sold-out ones too
  days: Map<string, DayState>;
  chosen?: string;
  choose: (day: string) => void;
  today: string;
  disabled?: boolean;
  labelledBy?: string;
};

// The roles that the APG gives a table of days; the cells are focused by what is in
// them.
const asGrid = { role: "grid" };
const asCell = (on: boolean) => ({ role: "gridcell", "aria-selected": on });

// Months shows a month as a grid of days: at a glance which are free, which nearly
// full and which sold out. Arrows go from day to day, Home and End along the week,
// Page up and Page down from month to month, as in a date grid of the WAI-ARIA
// Authoring Practices.
export function Months({ id, days, chosen, choose, today, disabled, labelledBy }: Props) {
  const { t } = useTranslation();
  const list = [...days.keys()].sort();
  const last = list.at(-1) ?? today;
  const begin = chosen ?? list.find((d) => (days.get(d)?.left ?? 0) > 0) ?? list[0] ?? today;
  const [month, setMonth] = useState(monthOf(begin));
  const [at, setAt] = useState(begin);
  const moved = useRef(false);
  const grid = useRef<HTMLTableElement>(null);
  // What comes later leads to where it begins, until somebody went elsewhere.
  useEffect(() => {
    if (moved.current) return;
    setMonth(monthOf(begin));
    setAt(begin);
  }, [begin]);
  useEffect(() => {
    if (moved.current) grid.current?.querySelector<HTMLElement>(`[data-day="${at}"]`)?.focus();
  }, [at]);
  const first = monthOf(today);
  const end = monthOf(last);
  const go = (day: string) => {
    const to = day < today ? today : day > last ? last : day;
    moved.current = true;
    setMonth(monthOf(to));
    setAt(to);
  };
  const turn = (by: number) => {
    const next = monthsApart(month, by);
    if (next < first || next > end) return;
    moved.current = false;
    setMonth(next);
    const free = list.find((d) => monthOf(d) === next && (days.get(d)?.left ?? 0) > 0);
    setAt(free ?? `${next}-01`);
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
        className="months-grid"
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
                      on={d === chosen}
                      here={d === at}
                      disabled={disabled}
                      choose={() => {
                        moved.current = true;
                        setAt(d);
                        choose(d);
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

type CellProps = {
  day: string;
  state?: DayState;
  on: boolean;
  here: boolean;
  disabled?: boolean;
  choose: () => void;
};

function Cell({ day, state, on, here, disabled, choose }: CellProps) {
  const { t } = useTranslation();
  const free = state !== undefined && state.left > 0;
  const said = !state
    ? t("closed")
    : state.left <= 0
      ? t("sold out")
      : state.few
        ? t("{{count}} left", { count: state.left })
        : t("free");
  return (
    <button
      type="button"
      data-day={day}
      tabIndex={here ? 0 : -1}
      className={`months-day${on ? " on" : ""}${free ? " free" : ""}`}
      aria-label={`${longDay(day)}: ${said}`}
      aria-disabled={!free || disabled}
      onClick={() => free && !disabled && choose()}
    >
      <span className="num">{Number(day.slice(8))}</span>
      <span className="months-state" aria-hidden="true">
        {!state ? "" : state.left <= 0 ? "✕" : state.few ? `◔ ${state.left}` : "●"}
      </span>
    </button>
  );
}
