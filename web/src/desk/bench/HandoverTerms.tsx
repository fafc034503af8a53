import { Button, Input } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../shared/Labelled";
import { WholeBox } from "../../shared/questions/boxes";
import type { Draft } from "./draft";

type Props = { draft: Draft; change: (draft: Draft) => void };

// HandoverTerms asks how what is made reaches the customer.
export function HandoverTerms({ draft, change }: Props) {
  const { t } = useTranslation();
  const h = draft.handover;
  if (!h)
    return (
      <>
        <h3>{t("Handover")}</h3>
        <div className="row">
          <span className="quiet">{t("Nothing is handed over: an order is done with its work.")}</span>
          <Button size="small" onClick={() => change({ ...draft, handover: { keep: 90 } })}>
            {t("Hand finished files over")}
          </Button>
        </div>
      </>
    );
  const set = (part: Partial<typeof h>) => change({ ...draft, handover: { ...h, ...part } });
  return (
    <>
      <h3>{t("Handover")}</h3>
      <Labelled
        id="handover-text"
        wording={t("What a handover says")}
        help={t("{{field}} shows the answer with that key.", { field: "{{key}}" })}
      >
        <Input.TextArea
          id="handover-text"
          rows={4}
          maxLength={5000}
          value={h.message ?? ""}
          onChange={(e) => set({ message: e.target.value || undefined })}
        />
      </Labelled>
      <div className="pair">
        <Labelled
          id="keep"
          wording={t("Files are kept for")}
          help={t("Days. Empty: as long as the order. The customer is told a week before they go.")}
        >
          <WholeBox id="keep" value={h.keep} onChange={(n) => set({ keep: n || undefined })} />
        </Labelled>
        <div>
          <Button size="small" onClick={() => change({ ...draft, handover: undefined })}>
            {t("Nothing is handed over")}
          </Button>
        </div>
      </div>
    </>
  );
}
