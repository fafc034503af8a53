import { Checkbox, Select } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../../shared/api/client";
import { WholeBox } from "../../../shared/questions/boxes";
import { useToday } from "../../../shared/today";

export type Edge = Schemas["Edge"];
type Part = { name: string; yearly?: boolean; from: Edge; to: Edge };
type Props = { id: string; part: Part; set: (part: Partial<Part>) => void };

// Edges edits the first and the last day of a part of the year: dates, or days
// around a movable feast.
export function Edges({ id, part, set }: Props) {
  const { t } = useTranslation();
  return (
    <div className="row edges">
      <Day
        id={`${id}-from`}
        wording={t("First day")}
        edge={part.from}
        yearly={part.yearly}
        set={(from) => set({ from })}
      />
      –
      <Day
        id={`${id}-to`}
        wording={t("Last day")}
        edge={part.to}
        yearly={part.yearly}
        set={(to) => set({ to })}
      />
      <Checkbox
        checked={part.yearly ?? false}
        onChange={(e) =>
          set(
            e.target.checked
              ? { yearly: true }
              : { yearly: undefined, from: dated(part.from), to: dated(part.to) },
          )
        }
      >
        {t("every year")}
      </Checkbox>
    </div>
  );
}

const dated = (e: Edge): Edge => ({ day: e.day });

type DayProps = { id: string; wording: string; edge: Edge; yearly?: boolean; set: (edge: Edge) => void };

function Day({ id, wording, edge, yearly, set }: DayProps) {
  const { t } = useTranslation();
  const today = useToday();
  const feasts: Record<string, string> = {
    carnival: t("Carnival Monday"),
    good_friday: t("Good Friday"),
    easter: t("Easter Sunday"),
    ascension: t("Ascension"),
    pentecost: t("Whit Sunday"),
    corpus_christi: t("Corpus Christi"),
    advent: t("first Sunday of Advent"),
  };
  return (
    <>
      {yearly && (
        <Select
          size="small"
          aria-label={`${wording}: ${t("a date or a feast")}`}
          value={edge.feast ?? ""}
          onChange={(feast) => set(feast ? { feast: feast as Edge["feast"], plus: 0 } : { day: today })}
          options={[
            { value: "", label: t("a date") },
            ...Object.entries(feasts).map(([value, label]) => ({ value, label })),
          ]}
        />
      )}
      {edge.feast ? (
        <WholeBox
          id={id}
          suffix={t("days after")}
          value={edge.plus ?? 0}
          onChange={(n) => set({ ...edge, plus: n ?? 0 })}
        />
      ) : (
        <input
          id={id}
          type="date"
          className="plain-field"
          aria-label={wording}
          value={edge.day ?? ""}
          onChange={(e) => e.target.value && set({ day: e.target.value })}
        />
      )}
    </>
  );
}
