import i18next from "i18next";
import { useTranslation } from "react-i18next";
import { monthOf, sheetOf } from "../../shared/days/days";
import { weekdays } from "../../shared/format";
import type { Booking, View } from "./times";

type Props = { view: View; month: string; bookings: Booking[]; go: (day: string) => void };

const most = 5; // bookings that a day names

// Month shows a month at a glance: who comes, what is free, what is closed, and the
// work that is due. A press on a day opens it.
export function Month({ view, month, bookings, go }: Props) {
  const { t } = useTranslation();
  const days = new Map(view.days.map((d) => [d.day, d]));
  return (
    <table className="calendar-month">
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
            {week.map((d) => {
              const at = days.get(d);
              const here = bookings.filter((b) => b.day <= d && (b.day === d || (b.stay && b.last >= d)));
              const free = at?.openings.filter((o) => o.left > 0).length ?? 0;
              const stays = at?.stays.reduce((n, s) => n + s.free, 0) ?? 0;
              return (
                <td key={d} className={monthOf(d) === month ? undefined : "other"}>
                  <button
                    type="button"
                    className={`calendar-cell${d === view.today ? " is-today" : ""}${at?.closed ? " closed" : ""}`}
                    onClick={() => go(d)}
                  >
                    <span className="row">
                      <span className="num grow">{Number(d.slice(8))}</span>
                      {(at?.work ?? 0) > 0 && (
                        <span className="small quiet">{t("{{count}} due", { count: at?.work })}</span>
                      )}
                    </span>
                    {at?.closed && <span className="mark plain">{at.closed}</span>}
                    {here.slice(0, most).map((b) => (
                      <span key={`${b.line}${b.start}`} className={`calendar-chip${b.stay ? " stay" : ""}`}>
                        {b.day === d && !b.stay && <span className="num">{b.time} </span>}
                        {b.day < d ? "→ " : ""}
                        {b.customer}
                      </span>
                    ))}
                    {here.length > most && (
                      <span className="small">{t("{{count}} more", { count: here.length - most })}</span>
                    )}
                    {free > 0 && (
                      <span className="small quiet">{t("{{count}} times free", { count: free })}</span>
                    )}
                    {stays > 0 && (
                      <span className="small quiet">{t("{{count}} stays free", { count: stays })}</span>
                    )}
                  </button>
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
