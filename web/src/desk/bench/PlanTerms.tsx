import { Button, Select } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../shared/Labelled";
import type { Draft } from "./draft";
import { PromiseTerms } from "./PromiseTerms";
import { choicesOf } from "./step/parts";

type Props = { draft: Draft; change: (draft: Draft) => void };

// PlanTerms asks what puts the work of an order before that of others, and how the
// product is promised.
export function PlanTerms({ draft, change }: Props) {
  const { t } = useTranslation();
  const able = (draft.questions ?? []).filter(
    (q) =>
      q.kind === "yes_no" || (q.kind === "one_choice" && (q.moment === "choosing" || q.moment === "paying")),
  );
  const of = able.find((q) => q.key === draft.rush?.of);
  return (
    <>
      <h2>{t("By when it is done")}</h2>
      <div className="pair">
        <Labelled
          id="rush-of"
          wording={t("The answer that puts its work first")}
          help={t("Customers see the day that it buys. What it costs is a charge like any other.")}
        >
          <Select
            id="rush-of"
            allowClear
            placeholder={t("none")}
            value={draft.rush?.of}
            onChange={(key?: string) => {
              const q = able.find((x) => x.key === key);
              const code = q?.kind === "yes_no" ? "yes" : choicesOf(q).at(-1)?.code;
              change({ ...draft, rush: q && { of: q.key, codes: code ? [code] : [] } });
            }}
            options={able.map((q) => ({ value: q.key, label: q.wording }))}
          />
        </Labelled>
        {of?.kind === "one_choice" && draft.rush && (
          <Labelled id="rush-codes" wording={t("with")}>
            <Select
              id="rush-codes"
              mode="multiple"
              className="full"
              value={draft.rush.codes}
              onChange={(codes: string[]) => change({ ...draft, rush: { of: of.key, codes } })}
              options={choicesOf(of).map((c) => ({ value: c.code, label: c.label }))}
            />
          </Labelled>
        )}
      </div>
      {draft.promise ? (
        <>
          <PromiseTerms terms={draft.promise} set={(promise) => change({ ...draft, promise })} />
          <div>
            <Button size="small" onClick={() => change({ ...draft, promise: undefined })}>
              {t("Promise as the business does")}
            </Button>
          </div>
        </>
      ) : (
        <div className="row">
          <span className="quiet">{t("It is promised as the business says in Settings.")}</span>
          <Button size="small" onClick={() => change({ ...draft, promise: { slack: 1 } })}>
            {t("Promise it otherwise")}
          </Button>
        </div>
      )}
    </>
  );
}
