import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { money, span } from "../../shared/format";

type Row = Schemas["EarningRow"];

const wide = 420;
const high = 320;
const edge = { left: 8, right: 12, top: 30, bottom: 28 };
const letters = 22; // of a name beside its dot

// EarningPlot sets what is left beside the hours that it took: the steeper from the
// corner, the more an hour earns. The line is all of it together.
export function EarningPlot({
  rows,
  currency,
  open,
}: {
  rows: Row[];
  currency: string;
  open: (key: string) => void;
}) {
  const { t } = useTranslation();
  const worked = rows.filter((r) => r.minutes > 0).slice(0, 60);
  if (worked.length < 2) return null;
  const most = Math.max(...worked.map((r) => r.minutes));
  const best = Math.max(...worked.map((r) => r.left), 1);
  const least = Math.min(...worked.map((r) => r.left), 0);
  const x = (minutes: number) => edge.left + (minutes / most) * (wide - edge.left - edge.right - 70);
  const y = (left: number) =>
    high - edge.bottom - ((left - least) / (best - least)) * (high - edge.top - edge.bottom);
  const all = worked.reduce((n, r) => n + r.left, 0) / worked.reduce((n, r) => n + r.minutes, 0);
  // The line of all together, cut at the upper edge.
  const end = all * most > best && all > 0 ? best / all : most;
  const toLeft = (r: Row) => x(r.minutes) > wide * 0.6;
  // A name stands beside its dot where it lies on no other.
  const names: { x: number; y: number; wide: number }[] = [];
  const free = (r: Row) => {
    const long = Math.min(r.label.length, letters) * 6.5;
    const box = { x: x(r.minutes) + (toLeft(r) ? -8 - long : 8), y: y(r.left), wide: long };
    const hit = (o: typeof box) =>
      Math.abs(o.y - box.y) < 13 && box.x < o.x + o.wide && o.x < box.x + box.wide;
    if (names.some(hit)) return false;
    names.push(box);
    return true;
  };
  return (
    <figure className="earning-plot">
      <svg
        viewBox={`0 0 ${wide} ${high}`}
        role="img"
        aria-label={t("What is left, beside the hours it took")}
      >
        <line className="axis" x1={edge.left} x2={wide - edge.right} y1={y(0)} y2={y(0)} />
        <line className="axis" x1={edge.left} x2={edge.left} y1={edge.top} y2={high - edge.bottom} />
        <line className="mean" x1={x(0)} y1={y(0)} x2={x(end)} y2={y(all * end)} />
        {worked.map((r) => (
          // biome-ignore lint/a11y/noStaticElementInteractions: the table beside it has the same as buttons
          <g key={r.key} className="dot" onClick={() => open(r.key)}>
            <circle cx={x(r.minutes)} cy={y(r.left)} r={5} />
            <title>
              {`${r.label}: ${money(r.left, currency)}, ${span(r.minutes)}`}
              {r.per_hour !== undefined &&
                `, ${t("{{amount}} an hour", { amount: money(r.per_hour, currency) })}`}
            </title>
            {free(r) && (
              <text
                x={x(r.minutes) + (toLeft(r) ? -8 : 8)}
                y={y(r.left) + 4}
                textAnchor={toLeft(r) ? "end" : undefined}
              >
                {r.label.length > letters ? `${r.label.slice(0, letters - 1)}…` : r.label}
              </text>
            )}
          </g>
        ))}
        <text className="scale" x={edge.left} y={16}>
          {money(best, currency)}
        </text>
        <text className="scale" x={wide - edge.right} y={high - 8} textAnchor="end">
          {span(most)}
        </text>
      </svg>
      <figcaption className="small quiet">
        {t(
          "Up: what is left. To the right: time. Above the line, an hour earns more than it does on the whole.",
        )}
      </figcaption>
    </figure>
  );
}
