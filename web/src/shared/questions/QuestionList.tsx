import { Button } from "antd";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Question } from "./types";

type Group = { section?: Question; questions: Question[] };

type Props = {
  questions: Question[];
  draw: (q: Question) => ReactNode;
  // A question that has to be seen, because something is wrong with it; a new
  // object each time, so that it is gone to again.
  goTo?: { key: string };
};

// QuestionList draws questions in their order: those of a section together
// under its title, and sections that are steps one at a time.
export function QuestionList({ questions, draw, goTo }: Props) {
  const { t } = useTranslation();
  const steps = stepsOf(groupsOf(questions));
  const [at, setAt] = useState(0);
  const latest = useRef(steps);
  latest.current = steps;
  useEffect(() => {
    if (!goTo) return;
    const wanted = latest.current.findIndex((s) =>
      s.some((g) => g.questions.some((q) => q.key === goTo.key)),
    );
    if (wanted >= 0) setAt(wanted);
  }, [goTo]);
  const now = Math.min(at, steps.length - 1);
  const groups = steps[now] ?? [];
  return (
    <>
      {steps.length > 1 && (
        <div className="row steps-head small quiet num" role="status">
          {t("Part {{at}} of {{of}}", { at: now + 1, of: steps.length })}
          <progress max={steps.length} value={now + 1} />
        </div>
      )}
      {groups.map((g) =>
        g.section ? (
          <section key={g.section.key} className="question-section" aria-label={g.section.wording}>
            {draw(g.section)}
            <div className="question-rows">{g.questions.map(draw)}</div>
          </section>
        ) : (
          <div key={g.questions[0]?.key} className="question-rows">
            {g.questions.map(draw)}
          </div>
        ),
      )}
      {steps.length > 1 && (
        <div className="row steps-foot">
          <Button disabled={now === 0} onClick={() => setAt(now - 1)}>
            {t("Back")}
          </Button>
          {now < steps.length - 1 && (
            <Button type="primary" onClick={() => setAt(now + 1)}>
              {t("Go on")}
            </Button>
          )}
        </div>
      )}
    </>
  );
}

function groupsOf(questions: Question[]): Group[] {
  const groups: Group[] = [];
  const sections = new Map<string, Group>();
  for (const q of questions) {
    if (q.kind === "section") {
      const g: Group = { section: q, questions: [] };
      sections.set(q.key, g);
      groups.push(g);
      continue;
    }
    const own = q.section ? sections.get(q.section) : undefined;
    const last = groups.at(-1);
    if (own) own.questions.push(q);
    else if (last && !last.section) last.questions.push(q);
    else groups.push({ questions: [q] });
  }
  return groups;
}

// stepsOf begins a step at each section that is one; what stands between
// belongs to the step before it.
function stepsOf(groups: Group[]): Group[][] {
  const steps: Group[][] = [[]];
  for (const g of groups) {
    if (g.section?.settings.step && steps.at(-1)?.length) steps.push([]);
    steps.at(-1)?.push(g);
  }
  return steps;
}
