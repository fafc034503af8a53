import { Button, Input } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../../shared/api/client";
import { add } from "../../../shared/days/days";
import { Labelled } from "../../../shared/Labelled";
import { WholeBox } from "../../../shared/questions/boxes";
import { useToday } from "../../../shared/today";
import { DayTimes } from "../../hours/DayTimes";
import type { Rule } from "./BookingEditor";

type Course = Schemas["Course"];
type Meeting = Course["meetings"][number];
type Props = { rule: Rule; set: (part: Partial<Rule>) => void };

const week = 7;

// next gives the meeting that follows the last one of a course: a week later, at the
// same time.
const next = (c: Course, today: string): Meeting => {
  const last = c.meetings.at(-1);
  return last
    ? { day: add(last.day, week), time: last.time }
    : { day: add(today, week), time: "19:00-20:30" };
};

// CourseRules edits the courses of a product, each with the days and times on which it
// meets, and how late somebody can join one.
export function CourseRules({ rule, set }: Props) {
  const { t } = useTranslation();
  const today = useToday();
  const list = rule.courses ?? [];
  const put = (i: number, part: Partial<Course>) =>
    set({ courses: list.map((c, n) => (n === i ? { ...c, ...part } : c)) });
  const begin = () => {
    const like = list.at(-1);
    const first = like ? next(like, today) : next({ name: "", meetings: [] }, today);
    const meetings = (like?.meetings ?? Array.from({ length: 6 })).map((_, n) => ({
      day: add(first.day, n * week),
      time: first.time,
    }));
    set({ courses: [...list, { name: `${t("Course")} ${list.length + 1}`, meetings }] });
  };
  return (
    <div className="seasons">
      {list.map((c, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a course is known by its place
        <div key={i} className="sheet season">
          <div className="row">
            <Input
              aria-label={t("Name of the course")}
              value={c.name}
              maxLength={60}
              onChange={(e) => put(i, { name: e.target.value })}
            />
            <Button
              size="small"
              aria-label={t("Take {{name}} away", { name: c.name })}
              onClick={() => set({ courses: list.toSpliced(i, 1) })}
            >
              ×
            </Button>
          </div>
          <ol className="meetings">
            {c.meetings.map((m, n) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a meeting is known by its place
              <li key={n}>
                <span className="num quiet">{n + 1}</span>
                <DayTimes
                  name={`${c.name} ${n + 1}`}
                  value={m}
                  set={(next) => put(i, { meetings: c.meetings.with(n, next) })}
                />
                <Button
                  size="small"
                  aria-label={t("Take {{name}} away", { name: `${c.name} ${n + 1}` })}
                  disabled={c.meetings.length <= 2}
                  onClick={() => put(i, { meetings: c.meetings.toSpliced(n, 1) })}
                >
                  ×
                </Button>
              </li>
            ))}
          </ol>
          <div className="row">
            <Button size="small" onClick={() => put(i, { meetings: [...c.meetings, next(c, today)] })}>
              {t("One more, a week later")}
            </Button>
            <Button
              size="small"
              onClick={() =>
                put(i, {
                  meetings: c.meetings.map((m, n) => ({
                    ...m,
                    day: add(c.meetings[0]?.day ?? m.day, n * week),
                  })),
                })
              }
            >
              {t("All a week apart")}
            </Button>
          </div>
        </div>
      ))}
      <Button size="small" onClick={begin}>
        {t("Add a course")}
      </Button>
      <Labelled
        id="join"
        wording={t("Can be joined later")}
        help={t("Who joins late pays for the meetings that are left. 0: only before the first one.")}
      >
        <WholeBox
          id="join"
          suffix={t("meetings missed at most")}
          value={rule.join ?? 0}
          onChange={(n) => set({ join: n || undefined })}
        />
      </Labelled>
    </div>
  );
}
