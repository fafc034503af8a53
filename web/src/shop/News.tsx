import { Button } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../shared/api/client";
import { day, local } from "../shared/format";
import { Html } from "../shared/Html";
import { Trouble } from "../shared/Trouble";
import { useChange } from "../shared/useChange";

type View = Schemas["NewsView"];
type Props = { news: View; zone: string; today: string; say: (agreed: boolean) => Promise<View> };

// News shows whether somebody wants to be written news, and has them say otherwise with
// one press.
export function News({ news, zone, today, say }: Props) {
  const { t } = useTranslation();
  const [now, setNow] = useState(news);
  useEffect(() => setNow(news), [news]); // said on another device
  const change = useChange({ send: say, done: setNow });
  if (!now.since && !now.text) return null;
  return (
    <section className="sheet stack news">
      <h2>{t("News")}</h2>
      {now.since ? (
        <p role="status">
          {t("You agreed on {{day}} that news may be written to you.", {
            day: day(local(now.since, zone).day, today),
          })}
        </p>
      ) : (
        <>
          <p role="status">{t("No news is written to you.")}</p>
          {now.text && (
            <div className="small quiet">
              <Html html={now.text.html} />
            </div>
          )}
        </>
      )}
      <div className="row">
        {now.since ? (
          <Button loading={change.busy} onClick={() => change.send(false)}>
            {t("Stop it")}
          </Button>
        ) : (
          <Button loading={change.busy} onClick={() => change.send(true)}>
            {t("Write me news")}
          </Button>
        )}
        <Trouble error={change.problem} />
      </div>
    </section>
  );
}
