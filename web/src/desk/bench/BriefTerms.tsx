import { Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../shared/Labelled";
import { WholeBox } from "../../shared/questions/boxes";
import type { Draft } from "./draft";

type Props = { draft: Draft; change: (draft: Draft) => void };
type Terms = NonNullable<Draft["brief"]>;

// BriefTerms asks until when answers can be changed, and what is said once all is there.
export function BriefTerms({ draft, change }: Props) {
  const { t } = useTranslation();
  const b = draft.brief ?? {};
  const set = (part: Terms) => {
    const next = { ...b, ...part };
    const said = Object.values(next).some((v) => v !== undefined);
    change({ ...draft, brief: said ? next : undefined });
  };
  const counted = b.closes === "order" || b.closes === "booked";
  return (
    <>
      <h3>{t("After payment")}</h3>
      <div className="pair">
        <Labelled id="closes" wording={t("Answers can be changed")}>
          <Select
            id="closes"
            value={b.closes ?? ""}
            onChange={(c: string) =>
              set({
                closes: (c || undefined) as Terms["closes"],
                days: c === "order" || c === "booked" ? (b.days ?? 2) : undefined,
              })
            }
            options={[
              { value: "", label: t("until you close the brief") },
              { value: "work", label: t("until work with them begins") },
              { value: "order", label: t("for some days after the order") },
              { value: "booked", label: t("until some days before what is booked") },
            ]}
          />
        </Labelled>
        {counted && (
          <Labelled id="closes-days" wording={t("Days")}>
            <WholeBox id="closes-days" value={b.days} onChange={(days) => set({ days: days ?? 0 })} />
          </Labelled>
        )}
      </div>
      <Labelled
        id="thanks"
        wording={t("What is said once all is answered")}
        help={t("{{field}} shows the answer with that key.", { field: "{{key}}" })}
      >
        <Input.TextArea
          id="thanks"
          rows={2}
          maxLength={2000}
          value={b.thanks ?? ""}
          onChange={(e) => set({ thanks: e.target.value || undefined })}
        />
      </Labelled>
      <Labelled
        id="thanks-address"
        wording={t("An own page to go on to then")}
        help={t("Its address, with https://. Empty for none.")}
      >
        <Input
          id="thanks-address"
          type="url"
          value={b.address ?? ""}
          onChange={(e) => set({ address: e.target.value || undefined })}
        />
      </Labelled>
    </>
  );
}
