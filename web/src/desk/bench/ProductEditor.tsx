import { Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../shared/Labelled";
import { PicturePicker } from "../../shared/PicturePicker";
import { WholeBox } from "../../shared/questions/boxes";
import { AtOnce } from "./AtOnce";
import { BriefTerms } from "./BriefTerms";
import type { Draft } from "./draft";
import { HandoverTerms } from "./HandoverTerms";
import { PlanTerms } from "./PlanTerms";

type Props = { draft: Draft; change: (draft: Draft) => void; product?: number };

export function ProductEditor({ draft, change, product }: Props) {
  const { t } = useTranslation();
  const set = (part: Partial<Draft>) => change({ ...draft, ...part });
  const area = (name: "description" | "next" | "licence", wording: string, help: string) => (
    <Labelled id={name} wording={wording} help={help}>
      <Input.TextArea
        id={name}
        rows={3}
        value={draft[name] ?? ""}
        onChange={(e) => set({ [name]: e.target.value })}
      />
    </Labelled>
  );
  return (
    <>
      <h2>{t("The product itself")}</h2>
      <Labelled id="title" wording={t("Title")}>
        <Input id="title" value={draft.title} onChange={(e) => set({ title: e.target.value })} />
      </Labelled>
      <Labelled id="summary" wording={t("In one sentence")}>
        <Input id="summary" value={draft.summary ?? ""} onChange={(e) => set({ summary: e.target.value })} />
      </Labelled>
      <div className="pair">
        <Labelled
          id="most_units"
          wording={t("Most of it in one order")}
          help={t("One asks for no quantity.")}
        >
          <WholeBox id="most_units" value={draft.most_units ?? 1} onChange={(n) => set({ most_units: n })} />
        </Labelled>
        <Labelled id="category" wording={t("Category")} help={t("Sheets can be used by category.")}>
          <Input
            id="category"
            value={draft.category ?? ""}
            onChange={(e) => set({ category: e.target.value || undefined })}
          />
        </Labelled>
        <Labelled id="picture" wording={t("Picture")}>
          <PicturePicker
            id="picture"
            label={t("Picture")}
            value={draft.picture}
            onChange={(picture) => set({ picture })}
          />
        </Labelled>
      </div>
      {area("description", t("What it is"), t("Markdown."))}
      {area("next", t("What happens next"), t("Markdown; customers read it before and after they buy."))}
      <div className="pair">
        <Labelled
          id="reaches"
          wording={t("How it reaches the customer")}
          help={t("Stands beside the total, so that nobody waits for a parcel.")}
        >
          <Select
            id="reaches"
            value={draft.reaches ?? ""}
            onChange={(reaches) => set({ reaches: reaches || undefined })}
            options={[
              { value: "", label: t("nothing is said") },
              { value: "files", label: t("as files; nothing is shipped") },
              { value: "place", label: t("at a place and a time; nothing is shipped") },
              { value: "parcel", label: t("by parcel") },
            ]}
          />
        </Labelled>
      </div>
      {area("licence", t("Licence"), t("Markdown; what customers may do with it. Stands beside the total."))}
      <PlanTerms draft={draft} change={change} />
      <BriefTerms draft={draft} change={change} />
      <AtOnce draft={draft} change={change} product={product} />
      <HandoverTerms draft={draft} change={change} />
    </>
  );
}
