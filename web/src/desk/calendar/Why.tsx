import { useQuery } from "@tanstack/react-query";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, take } from "../../shared/api/client";
import { day } from "../../shared/format";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";

// Why says of a day what can be booked on it of each product, and what makes it so.
export function Why({ day: asked }: { day: string }) {
  const { t } = useTranslation();
  const { today } = useHere();
  const why = useQuery({
    queryKey: ["calendar", asked],
    queryFn: () => take(api.GET("/api/desk/calendar/{day}", { params: { path: { day: asked } } })),
    placeholderData: (old) => old,
  });
  if (lost(why)) return <Trouble error={why.error} again={() => why.refetch()} />;
  return (
    <section className="sheet calendar-why" aria-live="polite" aria-label={t("Why is it open or closed on")}>
      <h2>{day(asked, today)}</h2>
      {why.data?.length === 0 && <div className="empty">{t("Nothing that is on sale can be booked.")}</div>}
      <dl>
        {why.data?.map((w) => (
          <div key={`${w.product} ${w.resource}`}>
            <dt>
              {w.resource === undefined ? <Link to={`/products/${w.product}`}>{w.title}</Link> : w.title}
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
