import { useQuery } from "@tanstack/react-query";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, take } from "../../shared/api/client";
import { span } from "../../shared/format";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";

// BySteps lists the steps that have open work, each with its worksheet.
export function BySteps() {
  const { t } = useTranslation();
  const steps = useQuery({ queryKey: ["steps"], queryFn: () => take(api.GET("/api/desk/steps")) });
  if (lost(steps)) return <Trouble error={steps.error} again={() => steps.refetch()} />;
  if (steps.data?.length === 0)
    return <div className="empty">{t("There is no open work. New orders bring it.")}</div>;
  return (
    <ul className="step-list">
      {steps.data?.map((s) => (
        <li key={`${s.product}/${s.step}`}>
          <Link to={`/work/${s.product}/${s.step}`}>
            <strong>{s.title}</strong>
            <span className="quiet">{s.product_title}</span>
            <span className="num">{t("{{count}} items", { count: s.open })}</span>
            <span className="num quiet">{span(s.minutes)}</span>
          </Link>
        </li>
      ))}
    </ul>
  );
}
