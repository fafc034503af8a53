import { Button, Checkbox, Input, Segmented } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../../shared/api/client";
import { Labelled } from "../../../shared/Labelled";
import { WholeBox } from "../../../shared/questions/boxes";
import { useToday } from "../../../shared/today";
import { WeekHours } from "../../hours/WeekHours";
import type { Rule } from "./BookingEditor";
import { Edges } from "./Edges";
import { SpanRules } from "./SpanRules";

type Season = Schemas["Season"];
type Props = { rule: Rule; set: (seasons: Season[] | undefined) => void };

// Seasons edits the parts of the year that have rules of their own.
export function Seasons({ rule, set }: Props) {
  const { t } = useTranslation();
  const today = useToday();
  const list = rule.seasons ?? [];
  const put = (i: number, part: Partial<Season>) =>
    set(list.map((s, n) => (n === i ? { ...s, ...part } : s)));
  return (
    <div className="seasons">
      {list.map((s, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a season is known by its place
        <div key={i} className="sheet season">
          <div className="row">
            <Input
              aria-label={t("Name of the season")}
              value={s.name}
              maxLength={60}
              onChange={(e) => put(i, { name: e.target.value })}
            />
            <Button
              size="small"
              aria-label={t("Take {{name}} away", { name: s.name })}
              onClick={() => set(list.length > 1 ? list.toSpliced(i, 1) : undefined)}
            >
              ×
            </Button>
          </div>
          <Edges id={`season-${i}`} part={s} set={(part) => put(i, part)} />
          <Segmented
            size="small"
            value={s.closed ? "closed" : "rules"}
            onChange={(v) => put(i, { closed: v === "closed" || undefined })}
            options={[
              { value: "rules", label: t("rules of its own") },
              { value: "closed", label: t("closed") },
            ]}
          />
          {!s.closed && <Own i={i} rule={rule} season={s} put={(part) => put(i, part)} />}
          {list.length > 1 && (
            <Labelled
              id={`season-${i}-rank`}
              wording={t("Rank")}
              help={t("Where seasons overlap, the higher one holds; of equal ones the later in this list.")}
            >
              <WholeBox id={`season-${i}-rank`} value={s.rank} onChange={(rank) => put(i, { rank })} />
            </Labelled>
          )}
        </div>
      ))}
      <Button
        size="small"
        onClick={() => set([...list, { name: t("Season"), from: { day: today }, to: { day: today } }])}
      >
        {t("Add a season")}
      </Button>
    </div>
  );
}

type OwnKey =
  | "length"
  | "grid"
  | "places"
  | "least_people"
  | "most_people"
  | "horizon"
  | "before"
  | "after"
  | "turnaround";
type OwnProps = { i: number; rule: Rule; season: Season; put: (part: Partial<Season>) => void };

function Own({ i, rule, season: s, put }: OwnProps) {
  const { t } = useTranslation();
  const stays = (rule.by ?? "") !== "";
  // What is empty is as in the rest of the year, which the box shows.
  const box = (name: OwnKey, wording: string, suffix?: string) => {
    const rest = name === "turnaround" ? rule.stays?.turnaround : rule[name];
    return (
      <Labelled id={`season-${i}-${name}`} wording={wording}>
        <WholeBox
          id={`season-${i}-${name}`}
          suffix={suffix}
          placeholder={rest === undefined ? undefined : String(rest)}
          value={s[name]}
          onChange={(n) => put({ [name]: n })}
        />
      </Labelled>
    );
  };
  return (
    <>
      {stays && (
        <>
          <Checkbox
            checked={s.span !== undefined}
            onChange={(e) => put({ span: e.target.checked ? { least: 2 } : undefined })}
          >
            {t("stays of another length")}
          </Checkbox>
          {s.span && (
            <SpanRules
              id={`season-${i}`}
              span={s.span}
              nights={rule.by === "nights"}
              set={(span) => put({ span })}
            />
          )}
        </>
      )}
      {!stays && (
        <>
          <Checkbox
            checked={s.week !== undefined}
            onChange={(e) => put({ week: e.target.checked ? rule.week : undefined })}
          >
            {t("other weekly hours")}
          </Checkbox>
          {s.week && <WeekHours id={`season-${i}-day`} week={s.week} change={(week) => put({ week })} />}
        </>
      )}
      <div className="pair three">
        {!stays &&
          !rule.lengths &&
          !rule.longest &&
          !rule.length_by &&
          box("length", t("Length"), t("minutes"))}
        {!stays && box("grid", t("A start every"), t("minutes"))}
        {box("places", stays || rule.private ? t("People at once") : t("Places at once"))}
        {box("least_people", t("Least people a booking"))}
        {box("most_people", t("Most people a booking"))}
        {box("horizon", t("Not later than"), t("days ahead"))}
        {box("before", t("Needed before it"), t("minutes"))}
        {box("after", t("Needed after it"), t("minutes"))}
        {stays && box("turnaround", t("Days between two stays"))}
      </div>
      <Labelled id={`season-${i}-notice`} wording={t("Not sooner than")}>
        <WholeBox
          id={`season-${i}-notice`}
          suffix={t("hours")}
          value={s.notice}
          onChange={(notice) => put({ notice })}
        />
      </Labelled>
    </>
  );
}
