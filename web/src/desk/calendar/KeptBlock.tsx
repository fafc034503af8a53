import { Button, Popover } from "antd";
import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { day } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";

type Props = { kept: Schemas["KeptRow"]; style: React.CSSProperties; children: ReactNode };

// KeptBlock is a time that is kept by hand, which can be let go.
export function KeptBlock({ kept, style, children }: Props) {
  const { t } = useTranslation();
  const { today } = useHere();
  const drop = useChange({
    send: () => take(api.DELETE("/api/desk/kept/{id}", { params: { path: { id: kept.id } } })),
    refreshes: ["calendar", "days"],
  });
  return (
    <Popover
      trigger="click"
      content={
        <div className="calendar-card">
          <strong>{kept.name}</strong>
          <div className="num">
            {day(kept.day, today)} {kept.time} – {kept.last !== kept.day && day(kept.last, today)} {kept.ends}
          </div>
          {kept.people > 0 && <div>{t("{{count}} places", { count: kept.people })}</div>}
          {kept.reason && <div>{kept.reason}</div>}
          <div className="small quiet">{t("kept by {{who}}", { who: kept.author })}</div>
          <Trouble error={drop.problem} />
          <div className="row">
            <Button size="small" loading={drop.busy} onClick={() => drop.send()}>
              {t("Let it go")}
            </Button>
          </div>
        </div>
      }
    >
      <button type="button" className="calendar-kept" style={style} title={`${kept.name}: ${kept.reason}`}>
        {children}
      </button>
    </Popover>
  );
}
