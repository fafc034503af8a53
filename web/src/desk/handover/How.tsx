import { Checkbox, Select } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";

export type How = { step: string; whole: boolean };

// HowGiven asks which step's work a handover is, and whether that is all of it.
export function HowGiven({
  of,
  how,
  set,
}: {
  of: Schemas["HandoverLine"];
  how: How;
  set: (how: How) => void;
}) {
  const { t } = useTranslation();
  const step = of.steps.find((s) => s.key === how.step);
  return (
    <>
      <div className="row">
        {of.steps.length > 0 && (
          <Select
            aria-label={t("Which step made it")}
            className="how-step"
            value={how.step}
            onChange={(key) => set({ ...how, step: key })}
            options={[
              { value: "", label: t("no step in particular") },
              ...of.steps.map((s) => ({ value: s.key, label: s.title })),
            ]}
          />
        )}
        <Checkbox checked={how.whole} onChange={(e) => set({ ...how, whole: e.target.checked })}>
          {t("that is all of it")}
        </Checkbox>
      </div>
      {step?.asks && (
        <p className="small quiet">
          {t("The customer is asked to accept it; {{count}} included rounds of changes are left.", {
            count: step.left ?? 0,
          })}{" "}
          {step.silence !== undefined &&
            t("No answer for {{count}} days counts as acceptance.", { count: step.silence })}
        </p>
      )}
    </>
  );
}
