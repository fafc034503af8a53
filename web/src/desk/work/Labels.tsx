import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { api, take } from "../../shared/api/client";
import { day } from "../../shared/format";
import { home } from "../../shared/home";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";

// Labels is a sheet of labels to print, one for each open item of a step: the order's
// number, as a code to scan too, and what it is.
export function Labels() {
  const { t } = useTranslation();
  const { today } = useHere();
  const { product = "", step = "" } = useParams();
  const sheet = useQuery({
    queryKey: ["worksheet", product, step],
    queryFn: () =>
      take(
        api.GET("/api/desk/worksheets/{product}/{step}", {
          params: { path: { product: Number(product), step } },
        }),
      ),
  });
  if (lost(sheet)) return <Trouble error={sheet.error} again={() => sheet.refetch()} />;
  if (!sheet.data) return null;
  return (
    <main className="desk-page wide">
      <div className="row sheet-tools">
        <h1 className="grow">{t("Labels: {{what}}", { what: sheet.data.title })}</h1>
        <Link to={`/work/${product}/${step}`}>{t("Back to the worksheet")}</Link>
        <Button type="primary" onClick={() => window.print()}>
          {t("Print")}
        </Button>
      </div>
      {sheet.data.rows.length === 0 && <div className="empty">{t("This step has no open work.")}</div>}
      <div className="labels">
        {sheet.data.rows.map(({ item }) => (
          <div key={item.id} className="label">
            <img
              src={`${home}/api/desk/dockets/${item.line}/code.png`}
              alt={t("code of order {{number}}", { number: item.number })}
              width="84"
              height="84"
            />
            <div>
              <strong className="num">{item.number}</strong>
              <div>{item.customer}</div>
              <div className="small">{item.part || sheet.data.product}</div>
              {item.due_day && <div className="small quiet">{day(item.due_day, today)}</div>}
            </div>
          </div>
        ))}
      </div>
    </main>
  );
}
