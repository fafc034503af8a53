// biome-ignore-all lint/a11y/noRedundantRoles: a table that is laid out as a grid is no table any more to some screen readers
import { type MouseEvent, memo, useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import { useHref, useNavigate, useSearchParams } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { away, day, money } from "../../shared/format";
import { useAddress } from "../../shared/useAddress";
import { useHere } from "../here";
import { type Column, useColumns } from "./Columns";
import { BriefMark } from "./Orders";

export type Sort = "customer" | "promised";

type Row = Schemas["OrderRow"];

type Props = {
  pages: Row[][];
  next?: () => unknown; // asks for more of them; nothing when there are none, or they are on their way
  listing: { sort?: Sort; turned?: boolean };
  open: number | undefined;
  more: Column[];
};

const ahead = "2000px"; // how far before its end more of the list is asked for

// OrderRows are the orders in one scroll: more of them come as one gets there. What they
// are sorted by stands in the address, so that going back goes back.
export function OrderRows({ pages, next, listing, open, more }: Props) {
  const { t } = useTranslation();
  const end = useRef<HTMLDivElement>(null);
  // Another list begins at the beginning.
  useEffect(() => {
    end.current?.closest(".order-list")?.scrollTo(0, 0);
  }, []);
  useEffect(() => {
    const box = end.current;
    if (!box || !next) return;
    const look = new IntersectionObserver((seen) => seen.some((s) => s.isIntersecting) && next(), {
      root: box.closest(".order-list"),
      rootMargin: ahead,
    });
    look.observe(box);
    return () => look.disconnect();
  }, [next]);
  // Whoever goes through the list with keys sees where they are.
  const seen = useRef(open);
  useEffect(() => {
    if (seen.current === open) return;
    seen.current = open;
    const list = end.current?.closest(".order-list");
    list?.querySelector(`[data-line="${open}"]`)?.scrollIntoView({ block: "nearest" });
  }, [open]);
  const navigate = useNavigate();
  const base = useHref("/orders");
  const [params] = useSearchParams();
  const search = params.size > 0 ? `?${params}` : "";
  const go = (e: MouseEvent<HTMLElement>) => {
    const line = e.target instanceof Element && e.target.closest<HTMLElement>("tr")?.dataset.line;
    if (!line || e.metaKey || e.ctrlKey || e.shiftKey) return;
    e.preventDefault();
    navigate({ pathname: `/orders/${line}`, search });
  };
  const columns = useColumns().filter((c) => more.includes(c.key as Column));
  return (
    <>
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: one hand for all rows; the keyboard has the link in each */}
      <table className="order-table" role="table" onClick={go}>
        <thead role="rowgroup">
          <tr role="row">
            <Head name="number" listing={listing} wording={t("Order")} />
            <Head name="customer" listing={listing} wording={t("Customer")} />
            <Head name="promised" listing={listing} wording={t("Brief, promised")} />
            {columns.map((c) => (
              <th key={c.key} scope="col" role="columnheader" className={c.className}>
                {c.title}
              </th>
            ))}
          </tr>
        </thead>
        {pages.map((rows) => (
          <Page
            key={rows[0]?.line}
            rows={rows}
            open={rows.some((r) => r.line === open) ? open : undefined}
            more={more}
            base={base}
            search={search}
          />
        ))}
      </table>
      <div ref={end} className="order-end">
        {next && t("more comes …")}
      </div>
    </>
  );
}

type HeadProps = { name: Sort | "number"; listing: Props["listing"]; wording: string };

// Head is a heading that the list is sorted by when it is pressed, and turned when it is
// pressed again. Orders stand newest first without being asked.
function Head({ name, listing, wording }: HeadProps) {
  const [, set] = useAddress();
  const own = name === (listing.sort ?? "number");
  const turned = listing.turned ?? false;
  const rising = name === "number" ? turned : !turned;
  const press = () => {
    const turn = name === "number" ? !(own && turned) : own && !turned;
    const sort = name !== "number" && !(own && turned) ? name : undefined;
    set({ sort, turned: turn ? "1" : undefined });
  };
  return (
    <th
      scope="col"
      role="columnheader"
      className={name === "number" ? "num sorts" : "sorts"}
      aria-sort={own ? (rising ? "ascending" : "descending") : "none"}
    >
      <button type="button" onClick={press}>
        {wording} <span aria-hidden="true">{own ? (rising ? "▴" : "▾") : ""}</span>
      </button>
    </th>
  );
}

type PageProps = Pick<Props, "open" | "more"> & { rows: Row[]; base: string; search: string };

// Page is what came at a time.
const Page = memo(function Page({ rows, open, more, base, search }: PageProps) {
  return (
    <tbody role="rowgroup">
      {rows.map((r) => (
        <OneRow key={r.line} row={r} on={r.line === open} more={more} href={`${base}/${r.line}${search}`} />
      ))}
    </tbody>
  );
});

type RowProps = { row: Row; on: boolean; more: Column[]; href: string };

// OneRow is an order line. It is drawn anew only when it changed, as there can be
// thousands.
const OneRow = memo(function OneRow({ row: r, on, more, href }: RowProps) {
  const { t } = useTranslation();
  const { today } = useHere();
  const columns = useColumns();
  return (
    <tr
      role="row"
      className={on ? "order-row on" : "order-row"}
      aria-current={on || undefined}
      data-line={r.line}
    >
      <th scope="row" role="rowheader" className="num">
        <a href={href}>{r.number}</a>
      </th>
      <td role="cell">
        <div>
          {r.customer} {r.new && <span className="mark attention">★ {t("new")}</span>}
        </div>
        <div className="small quiet">
          {r.title} · <span className="num nowrap">{money(r.total, r.currency)}</span>
          {r.due > 0 && ` · ${t("{{amount}} open", { amount: money(r.due, r.currency) })}`}
        </div>
      </td>
      <td role="cell">
        {r.state === "awaiting" ? (
          <span className="mark attention">◔ {t("waits for its transfer")}</span>
        ) : r.state === "lapsed" ? (
          <span className="mark plain">□ {t("given free")}</span>
        ) : r.cancelled ? (
          <span className="mark plain">■ {t("cancelled")}</span>
        ) : (
          <BriefMark brief={r.brief} missing={r.missing} />
        )}
        {r.state === "placed" && !r.cancelled && (
          <div className="small quiet">
            <When row={r} today={today} />
          </div>
        )}
      </td>
      {columns
        .filter((c) => more.includes(c.key as Column))
        .map((c) => (
          <td key={c.key} role="cell" className={c.className}>
            {c.render(undefined, r)}
          </td>
        ))}
    </tr>
  );
});

// When says when the order is due: on the booked day, or on the promised one.
function When({ row, today }: { row: Schemas["OrderRow"]; today: string }) {
  const { t } = useTranslation();
  const [bookedDay, bookedTime] = row.booked?.split("T") ?? [];
  if (bookedDay) return `${day(bookedDay, today)}, ${bookedTime}`;
  if (row.changes) return t("changes asked for");
  if (row.handed) return t("handed over");
  if (row.open === 0) return t("all done");
  if (!row.promised) return t("no day promised yet");
  return `${day(row.promised, today)}, ${away(row.promised, today)}`;
}
