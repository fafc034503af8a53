import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, take } from "../../shared/api/client";
import { away, day } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";

// Calendar lists the coming weeks: each opening with its places and who comes; and
// says of any day which rules and bookings make it as it is.
export function Calendar() {
  const { t } = useTranslation();
  const { today } = useHere();
  const [asked, ask] = useState("");
  const days = useQuery({ queryKey: ["calendar"], queryFn: () => take(api.GET("/api/desk/calendar")) });
  if (days.error) return <Trouble error={days.error} again={() => days.refetch()} />;
  if (!days.data) return null;
  const shown = days.data.filter((d) => d.openings.length > 0 || d.closed);
  return (
    <main className="desk-page">
      <div className="row">
        <h1 className="grow">{t("The coming four weeks")}</h1>
        <label className="row small" htmlFor="why-day">
          {t("Why is it open or closed on")}
          <input
            id="why-day"
            type="date"
            className="plain-field"
            value={asked}
            onChange={(e) => ask(e.target.value)}
          />
        </label>
      </div>
      {asked && <Why day={asked} />}
      {shown.length === 0 && (
        <div className="empty">{t("No openings. A product with a booking rule brings them.")}</div>
      )}
      {shown.map((d) => (
        <section key={d.day} className="calendar-day">
          <div>
            <h2>{day(d.day, today)}</h2>
            <span className="quiet small">{away(d.day, today)}</span>
            {d.closed && <div className="mark plain">{d.closed}</div>}
          </div>
          <div>
            {d.openings.map((o) => (
              <div key={`${o.product}${o.time}`} className="calendar-opening">
                <span className="num">
                  {o.time}–{o.ends}
                </span>
                <div>
                  <span>{o.product}</span>{" "}
                  {o.bookings.map((b) => (
                    <Link key={b.line} to={`/orders/${b.line}`} className="calendar-booking">
                      {b.customer} <span className="num">{b.people}</span>
                    </Link>
                  ))}
                  {o.bookings.flatMap((b) =>
                    (b.answers ?? []).map((a) => (
                      <div key={`${b.line}${a.key}`} className="small quiet calendar-answer">
                        {a.wording} {a.words.replaceAll("\n", "; ")}
                      </div>
                    )),
                  )}
                </div>
                {o.places > 0 ? (
                  <span className="small num">
                    <Seats left={o.left} places={o.places} />
                    {o.left === 0 ? t("sold out") : t("{{count}} left", { count: o.left })}
                  </span>
                ) : (
                  <span className="small quiet">{t("no longer offered")}</span>
                )}
              </div>
            ))}
          </div>
        </section>
      ))}
    </main>
  );
}

// Why says of a day what can be booked on it of each product, and what makes it so.
function Why({ day: asked }: { day: string }) {
  const { t } = useTranslation();
  const { today } = useHere();
  const why = useQuery({
    queryKey: ["calendar", asked],
    queryFn: () => take(api.GET("/api/desk/calendar/{day}", { params: { path: { day: asked } } })),
    placeholderData: (old) => old,
  });
  if (why.error) return <Trouble error={why.error} again={() => why.refetch()} />;
  return (
    <section className="sheet calendar-why" aria-live="polite" aria-label={t("Why is it open or closed on")}>
      <h2>{day(asked, today)}</h2>
      {why.data?.length === 0 && <div className="empty">{t("Nothing that is on sale can be booked.")}</div>}
      <dl>
        {why.data?.map((w) => (
          <div key={w.product}>
            <dt>
              <Link to={`/products/${w.product}`}>{w.title}</Link>
            </dt>
            {w.why.map((line) => (
              <dd key={line}>{line}</dd>
            ))}
          </div>
        ))}
      </dl>
    </section>
  );
}

function Seats({ left, places }: { left: number; places: number }) {
  return (
    <span className="seats" aria-hidden="true">
      {Array.from({ length: Math.min(places, 16) }, (_, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: seats have no identity
        <i key={i} className={i < places - left ? "taken" : undefined} />
      ))}
    </span>
  );
}
