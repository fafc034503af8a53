import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import type { DaysSource } from "../../shared/days/source";
import { QuestionField } from "../../shared/questions/QuestionField";
import { faultsOf, type Question } from "../../shared/questions/types";
import { PriceDialog } from "../../shared/slip/PriceDialog";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import type { Brief, BriefLine } from "./useBrief";

type Props = {
  q: Question;
  line: BriefLine;
  link?: string; // of the order's page; a recipient has none, and agrees to no price
  brief: Brief;
  prefix: string;
  days?: DaysSource;
};

// Where one writes letter by letter; anything else is answered with one press.
const written = "textarea, input:not([type=checkbox], [type=radio], [type=file], [type=color], [type=range])";

// BriefField is a question of a brief that is saved while it is answered. What is wrong
// with it is said once nobody is typing there.
export function BriefField({ q, line, link, brief, prefix, days }: Props) {
  const { t } = useTranslation();
  const [active, setActive] = useState(false);
  const asked = line.asked.find((a) => a.key === q.key);
  const half = brief.half(q.key);
  const quiet = active || brief.typing(q.key);
  const answered = asked?.answered ?? false;
  return (
    <fieldset
      className="brief-field"
      aria-label={q.wording}
      onFocus={(e) => setActive(e.target.matches(written))}
      onBlur={(e) => {
        if (!e.currentTarget.contains(e.relatedTarget)) setActive(false);
      }}
    >
      <QuestionField
        prefix={prefix}
        q={q}
        page={line.page}
        quantity={line.quantity}
        days={days}
        value={brief.value(q.key)}
        onChange={(v) => brief.change(q.key, v)}
        asked={asked}
        faults={half && !quiet ? faultsOf(half.faults, q.key) : []}
        later={
          !q.required || answered || half || brief.typing(q.key)
            ? undefined
            : {
                on: brief.unknown(q.key),
                set: (on) => brief.setUnknown(q.key, on),
                words: t("I do not know yet"),
              }
        }
      />
      {half?.priced && link !== undefined && <Priced q={q} line={line} link={link} brief={brief} />}
      {brief.other(q.key) && (
        <div className="notice attention" role="alert">
          {t("This was changed on another device meanwhile.")}
          <div className="row">
            <Button size="small" onClick={() => brief.settle(q.key, false)}>
              {t("Take what was written there")}
            </Button>
            <Button size="small" onClick={() => brief.settle(q.key, true)}>
              {t("Keep what I wrote here")}
            </Button>
          </div>
        </div>
      )}
    </fieldset>
  );
}

// Priced has an answer wait that changes the price, until its customer agrees to it.
function Priced({ q, line, link, brief }: Omit<Props, "prefix" | "days" | "link"> & { link: string }) {
  const { t } = useTranslation();
  const [shown, setShown] = useState<Schemas["PriceChange"]>();
  const preview = useChange({
    send: () =>
      take(
        api.POST("/api/shop/orders/{link}/lines/{line}/answers/preview", {
          params: { path: { link, line: line.id } },
          body: { version: line.version, answers: { [q.key]: brief.value(q.key) } },
        }),
      ),
    done: setShown,
  });
  return (
    <div className="notice attention row" role="status">
      <span className="grow">{t("This changes the price, and counts once you agree to it.")}</span>
      <Button size="small" loading={preview.busy} onClick={() => preview.send()}>
        {t("See the price")}
      </Button>
      <Trouble error={preview.problem} />
      {shown && (
        <PriceDialog
          change={shown}
          busy={brief.state === "saving"}
          agree={async () => {
            await brief.agree(q.key, shown.after.total);
            setShown(undefined);
          }}
          leave={() => {
            setShown(undefined);
            brief.change(q.key, line.answers[q.key] ?? null);
          }}
        />
      )}
    </div>
  );
}
