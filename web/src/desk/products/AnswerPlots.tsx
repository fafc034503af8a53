import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { money } from "../../shared/format";

type CountsProps = {
  counts: Schemas["AnswerCount"][];
  on?: string;
  choose: (what: string) => void;
};

// Counts draws how often each choice was taken, or each word written; pressing one shows
// its orders.
export function Counts({ counts, on, choose }: CountsProps) {
  const { i18n } = useTranslation();
  const say = new Intl.NumberFormat(i18n.language);
  const most = Math.max(...counts.map((c) => c.n), 1);
  return (
    <ul className="bare count-bars">
      {counts.slice(0, 8).map((c) => (
        <li key={c.code}>
          <button type="button" aria-pressed={c.code === on} onClick={() => choose(c.code)}>
            <span className="count-what">{c.what}</span>
            <svg viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
              <rect width={(c.n / most) * 100} height="10" />
            </svg>
            <span className="num">{say.format(c.n)}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}

const wide = 220;
const high = 90;

// Numbers draws where numbers lie: a bar for each stretch, with the middle half marked.
export function Numbers({ n, currency }: { n: Schemas["AnswerNumbers"]; currency?: string }) {
  const { t, i18n } = useTranslation();
  const say = (x: number) =>
    currency
      ? money(Math.round(x), currency)
      : new Intl.NumberFormat(i18n.language, { maximumFractionDigits: 2 }).format(x);
  const most = Math.max(...n.bins.map((b) => b.n), 1);
  const step = wide / n.bins.length;
  const span = n.greatest - n.least || 1;
  const x = (v: number) => ((v - n.least) / span) * wide;
  const words = t("half of {{n}} between {{lower}} and {{upper}}, in the middle {{median}}", {
    n: n.n,
    lower: say(n.lower),
    upper: say(n.upper),
    median: say(n.median),
  });
  return (
    <>
      <svg className="number-bars" viewBox={`0 0 ${wide} ${high}`} role="img" aria-label={words}>
        {n.bins.map((b, i) => (
          <rect
            key={b.from}
            x={i * step + 1}
            width={Math.max(step - 2, 1)}
            y={high - 22 - (b.n / most) * (high - 30)}
            height={(b.n / most) * (high - 30)}
          >
            <title>{`${say(b.from)} – ${say(b.to)}: ${b.n}`}</title>
          </rect>
        ))}
        <line className="middle" x1={x(n.lower)} x2={x(n.upper)} y1={high - 18} y2={high - 18} />
        <text x={0} y={high - 3}>
          {say(n.least)}
        </text>
        <text x={wide} y={high - 3} textAnchor="end">
          {say(n.greatest)}
        </text>
      </svg>
      <div className="small quiet">{words}</div>
    </>
  );
}
