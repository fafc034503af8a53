import { memo } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { span } from "../../shared/format";
import { Answer } from "../orders/Answer";
import { Evidence } from "../orders/Evidence";
import { Timer } from "./Timer";
import { Due, Marks, Waits } from "./WorkRow";

// canBeDone says whether an item in that state can be begun or finished.
export const canBeDone = (state: string) => state === "ready" || state === "started";

type Props = {
  row: Schemas["WorksheetRow"];
  columns: Schemas["Column"][];
  today: string;
  ticked: boolean;
  at: boolean;
  tick: (id: number) => void;
};

// SheetRow is an item of a worksheet with its answers. It is drawn anew only when
// something of it changes, as a sheet can have thousands.
export const SheetRow = memo(function SheetRow({ row, columns, today, ticked, at, tick }: Props) {
  const { t } = useTranslation();
  const { item, cells } = row;
  return (
    <tr className={at ? "at" : undefined}>
      <td>
        <input
          type="checkbox"
          aria-label={t("tick {{number}}", { number: item.number })}
          checked={ticked}
          disabled={!canBeDone(item.state)}
          onChange={() => tick(item.id)}
        />
      </td>
      <td>
        <Link to={`/orders/${item.line}`} className="num">
          {item.number}
        </Link>
        <div className="small quiet">{item.customer}</div>
        {item.part && <div>{item.part}</div>}
      </td>
      <td>
        <Due item={item} today={today} />
      </td>
      {columns.map((c) => {
        const a = cells[c.key];
        return (
          <td key={c.key}>
            {a ? (
              <>
                <Answer a={a} brief />
                <Evidence line={item.line} a={a} small />
              </>
            ) : (
              <span className="quiet">{t("not asked")}</span>
            )}
          </td>
        );
      })}
      <td>
        <span className="num small">{span(item.minutes)}</span> <Marks item={{ ...item, marks: [] }} />
        <div>
          <Waits item={item} />
        </div>
        <Timer item={item} />
      </td>
    </tr>
  );
});
