import { Button, Popover } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { span } from "../../shared/format";
import { WholeBox } from "../../shared/questions/boxes";
import { type Item, useDecide } from "./useDecide";

// Timer says how long an item took so far, counting on while somebody works on it. It
// can be corrected.
export function Timer({ item }: { item: Item }) {
  const { t } = useTranslation();
  const [shown, setShown] = useState({ at: Date.now(), now: Date.now() });
  const decide = useDecide();
  const [minutes, setMinutes] = useState<number>();
  const [open, setOpen] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was counted newly begins anew
  useEffect(() => {
    setShown({ at: Date.now(), now: Date.now() });
    if (!item.since) return;
    const timer = setInterval(() => setShown((old) => ({ ...old, now: Date.now() })), 15_000);
    return () => clearInterval(timer);
  }, [item.since, item.taken]);
  if (item.taken === undefined && !item.since) return null;
  const passed = item.since ? Math.floor((shown.now - shown.at) / 60_000) : 0;
  const taken = (item.taken ?? 0) + passed;
  const words = item.since
    ? t("{{who}}: {{taken}} so far", { who: item.by ?? "", taken: span(taken) })
    : t("took {{taken}}", { taken: span(taken) });
  if (item.since)
    return (
      <span className="small">
        <span className="running" aria-hidden="true">
          ▶
        </span>{" "}
        {words}
      </span>
    );
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        setMinutes(taken);
      }}
      content={
        <div className="row">
          <span className="narrow">
            <WholeBox
              id={`taken-${item.id}`}
              label={t("Minutes that it took")}
              suffix="min"
              value={minutes}
              onChange={setMinutes}
            />
          </span>
          <Button
            type="primary"
            loading={decide.busy}
            disabled={minutes === undefined}
            onClick={async () => {
              if (await decide.decide(item, { taken: minutes })) setOpen(false);
            }}
          >
            {t("Correct it")}
          </Button>
        </div>
      }
    >
      <button type="button" className="linkish small">
        {words}
        <span className="sr"> {item.title}</span>
      </button>
    </Popover>
  );
}
