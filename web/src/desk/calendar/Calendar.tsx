import { useQuery } from "@tanstack/react-query";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, take } from "../../shared/api/client";
import { away, day } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";

// Calendar lists the coming weeks: each opening with its places and who comes.
export function Calendar() {
  const { t } = useTranslation();
  const { today } = useHere();
  const days = useQuery({ queryKey: ["calendar"], queryFn: () => take(api.GET("/api/desk/calendar")) });
  if (days.error) return <Trouble error={days.error} again={() => days.refetch()} />;
  if (!days.data) return null;
  const shown = days.data.filter((d) => d.openings.length > 0 || d.closed);
  return (
    <main className="desk-page">
      <h1>{t("The coming four weeks")}</h1>
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
