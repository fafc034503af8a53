import { Input, Select } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../../shared/Labelled";
import { WholeBox } from "../../../shared/questions/boxes";
import type { Draft } from "../draft";
import type { Rule } from "./BookingEditor";

type Props = { rule: Rule; values: NonNullable<Draft["values"]>; set: (part: Partial<Rule>) => void };
type Way = "one" | "several" | "between" | "value";

const none = { lengths: undefined, longest: undefined, length_by: undefined };

// Length edits how long an opening is: always the same, as the customer chooses, or
// as a named value says.
export function Length({ rule, values, set }: Props) {
  const { t } = useTranslation();
  const way: Way = rule.lengths ? "several" : rule.longest ? "between" : rule.length_by ? "value" : "one";
  const go = (next: Way) => {
    if (next === "one") set(none);
    if (next === "several") set({ ...none, lengths: [rule.length, rule.length * 2], private: true });
    if (next === "between") set({ ...none, longest: rule.length + 2 * rule.grid, private: true });
    if (next === "value") set({ ...none, length_by: values[0]?.name, private: true });
  };
  return (
    <div className="pair three">
      <Labelled id="length-way" wording={t("How long it is")}>
        <Select
          id="length-way"
          value={way}
          onChange={go}
          options={[
            { value: "one", label: t("always the same") },
            { value: "several", label: t("one of several") },
            { value: "between", label: t("from … to …") },
            ...(values.length > 0 ? [{ value: "value", label: t("as a named value says") }] : []),
          ]}
        />
      </Labelled>
      {way === "several" ? (
        <Lengths
          list={rule.lengths ?? []}
          set={(lengths) => set({ lengths, length: lengths[0] ?? rule.length })}
        />
      ) : (
        <Labelled id="length" wording={way === "one" ? t("Length") : t("Least length")}>
          <WholeBox
            id="length"
            suffix={t("minutes")}
            value={rule.length}
            onChange={(n) => n !== undefined && set({ length: n })}
          />
        </Labelled>
      )}
      {way === "between" && (
        <Labelled id="longest" wording={t("Greatest length")}>
          <WholeBox
            id="longest"
            suffix={t("minutes")}
            value={rule.longest}
            onChange={(longest) => set({ longest })}
          />
        </Labelled>
      )}
      {way === "value" && (
        <Labelled id="length-by" wording={t("The value, in minutes")}>
          <Select
            id="length-by"
            value={rule.length_by}
            onChange={(length_by) => set({ length_by })}
            options={values.map((v) => ({ value: v.name, label: v.name }))}
          />
        </Labelled>
      )}
    </div>
  );
}

// Lengths edits several lengths, with commas between them.
function Lengths({ list, set }: { list: number[]; set: (list: number[]) => void }) {
  const { t } = useTranslation();
  const given = list.join(", ");
  const [text, setText] = useState(given);
  useEffect(() => setText((old) => (read(old)?.join(", ") === given ? old : given)), [given]);
  return (
    <Labelled id="lengths" wording={t("Lengths, in minutes")}>
      <Input
        id="lengths"
        value={text}
        placeholder="30, 60, 90"
        status={read(text) ? undefined : "error"}
        onChange={(e) => {
          setText(e.target.value);
          const next = read(e.target.value);
          if (next) set(next);
        }}
      />
    </Labelled>
  );
}

// read reads "30, 60"; undefined while it is not whole.
function read(text: string): number[] | undefined {
  const parts = text.split(",").map((s) => s.trim());
  return parts.every((s) => /^\d{1,4}$/.test(s)) ? parts.map(Number) : undefined;
}
