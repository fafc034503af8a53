import { Select } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { Labelled } from "../../shared/Labelled";
import { WholeBox } from "../../shared/questions/boxes";

type Terms = Schemas["PromiseTerms"];

// PromiseTerms asks how orders are promised: the slack, the latest day, and what
// happens when there is more work than that.
export function PromiseTerms({ terms, set }: { terms: Terms; set: (terms: Terms) => void }) {
  const { t } = useTranslation();
  const change = (part: Partial<Terms>) => set({ ...terms, ...part });
  const bounded = (terms.latest ?? 0) > 0;
  return (
    <div className="pair three">
      <Labelled id="slack" wording={t("Slack")} help={t("Working days put on top of when the work is done.")}>
        <WholeBox id="slack" value={terms.slack} onChange={(n) => change({ slack: n ?? 0 })} />
      </Labelled>
      <Labelled
        id="latest"
        wording={t("Latest promise")}
        help={t("Working days from today. Empty: as late as it takes.")}
      >
        <WholeBox
          id="latest"
          value={terms.latest || undefined}
          onChange={(n) =>
            change({
              latest: n || undefined,
              beyond: n ? (terms.beyond ?? "stop") : undefined,
              daily: undefined,
            })
          }
        />
      </Labelled>
      {bounded && (
        <Labelled id="beyond" wording={t("With more work than that")}>
          <Select
            id="beyond"
            value={terms.beyond ?? "stop"}
            onChange={(beyond) =>
              change({ beyond, daily: beyond === "slow" ? (terms.daily ?? 1) : undefined })
            }
            options={[
              { value: "stop", label: t("it is not sold") },
              { value: "slow", label: t("it is sold slowly") },
            ]}
          />
          {terms.beyond === "slow" && (
            <WholeBox
              id="daily"
              label={t("Orders a day")}
              suffix={t("a day")}
              value={terms.daily}
              onChange={(n) => change({ daily: n })}
            />
          )}
        </Labelled>
      )}
    </div>
  );
}
