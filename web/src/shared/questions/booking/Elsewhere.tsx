import { useTranslation } from "react-i18next";
import { local, longDay } from "../../format";

type Props = { times: { start: string; day: string }[]; zone: string };

// Elsewhere says what times are where the customer is, if that is in another zone than
// the business.
export function Elsewhere({ times, zone }: Props) {
  const { t } = useTranslation();
  const own = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const first = times[0];
  if (!first || local(first.start, own).time === local(first.start, zone).time) return null;
  return (
    <p className="small quiet booking-zone">
      {t("These times are those of {{zone}}. Where you are, they begin at:", {
        zone: zone.split("/").at(-1)?.replaceAll("_", " "),
      })}{" "}
      {times.map((o) => {
        const there = local(o.start, own);
        return (
          <span key={o.start} className="num">
            {there.day === o.day ? there.time : `${longDay(there.day)}, ${there.time}`}{" "}
          </span>
        );
      })}
    </p>
  );
}
