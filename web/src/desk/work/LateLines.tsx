import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";

// LateLines lists orders that are, or would be, late, and by how much.
export function LateLines({ list }: { list: Schemas["LateLine"][] }) {
  const { t } = useTranslation();
  return list.map((l) => (
    <div key={l.line} className="small">
      <Link to={`/orders/${l.line}`} className="num">
        {l.number}
      </Link>{" "}
      {l.customer}: {t("{{count}} days late", { count: l.days })}
    </div>
  ));
}
