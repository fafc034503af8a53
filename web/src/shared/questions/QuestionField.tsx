import { Checkbox } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../api/client";
import { fields, shown } from "./fields";
import type { Question } from "./types";
import "./questions.css";

type Props = {
  q: Question;
  value: unknown;
  onChange: (value: unknown) => void;
  page: Schemas["ProductPage"];
  openings?: Schemas["Opening"][];
  text?: string;
  fault?: string;
  disabled?: boolean;
  // where the question may be left until later
  later?: { on: boolean; set: (on: boolean) => void };
  prefix?: string;
};

// QuestionField shows one question: wording, what it does to the price, help,
// the field of its kind, and what is wrong with the answer.
export function QuestionField({
  q,
  value,
  onChange,
  page,
  openings,
  text,
  fault,
  disabled,
  later,
  prefix,
}: Props) {
  const { t } = useTranslation();
  const Field = fields[q.kind];
  if (!Field) return null;
  const id = `${prefix ?? "q"}-${q.key}`;
  if (shown.has(q.kind))
    return <Field id={id} q={q} value={null} onChange={onChange} page={page} text={text} />;
  const describedBy = [q.help && `${id}-help`, fault && `${id}-fault`].filter(Boolean).join(" ") || undefined;
  const single = !["one_choice", "several_choices", "yes_no", "booking"].includes(q.kind);
  const Label = single ? "label" : "div";
  return (
    <div className="question" data-question={q.key}>
      <Label id={`${id}-label`} {...(single ? { htmlFor: id } : {})} className="question-wording">
        {q.wording}
        {q.hint && <span className="question-hint num"> {q.hint}</span>}
        {!q.required && (
          <span className="question-hint">
            {q.hint ? " · " : " "}
            {t("optional")}
          </span>
        )}
      </Label>
      {q.help && (
        <div id={`${id}-help`} className="small quiet question-help">
          {q.help}
        </div>
      )}
      {!later?.on && (
        <Field
          id={id}
          q={q}
          value={value}
          onChange={onChange}
          page={page}
          openings={openings}
          describedBy={describedBy}
          invalid={fault !== undefined}
          disabled={disabled}
        />
      )}
      {later && (
        <Checkbox
          checked={later.on}
          disabled={disabled}
          onChange={(e) => later.set(e.target.checked)}
          className="question-later"
        >
          {t("I will tell you later")}
        </Checkbox>
      )}
      {fault && (
        <div id={`${id}-fault`} className="question-fault" role="alert">
          {fault}
        </div>
      )}
    </div>
  );
}
