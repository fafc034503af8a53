import type { Choice } from "./one_choice/Choices";
import type { Question } from "./types";

// begin gives the answers that a form begins with: preselected choices, and
// what came with the link.
export function begin(questions: Question[], link?: URLSearchParams): Record<string, unknown> {
  const answers: Record<string, unknown> = {};
  for (const q of questions) {
    const chosen = ((q.settings.choices as Choice[] | undefined) ?? []).filter((c) => c.preselected);
    if (chosen.length > 0 && q.scope !== "unit" && !q.settings.counted) {
      answers[q.key] = q.kind === "one_choice" ? chosen[0]?.code : chosen.map((c) => c.code);
    }
    const came = q.kind === "link_value" ? link?.get(`q.${q.key}`) : undefined;
    if (came) answers[q.key] = came;
  }
  return answers;
}
