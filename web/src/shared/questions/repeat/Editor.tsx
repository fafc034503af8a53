import { Button, Checkbox, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../api/client";
import { kinds } from "../editors";
import { keyOf } from "../key";
import { useKinds } from "../kinds";
import { LineSetting, WholeSetting } from "../settings";
import type { EditorProps } from "../types";

type Inner = Schemas["DraftQuestion"];

// An entry is asked a small set of questions; kinds that are asked only once
// are not among them.
export function Editor(p: EditorProps) {
  const { t } = useTranslation();
  const questions = (p.settings.questions as Inner[] | undefined) ?? [];
  const set = (next: Inner[]) => p.onChange({ ...p.settings, questions: next });
  const change = (i: number, part: Partial<Inner>) =>
    set(questions.map((q, n) => (n === i ? { ...q, ...part } : q)));
  const table = useKinds();
  const able = Object.entries(kinds).filter(([kind]) => table.kind(kind)?.repeats);
  const word = (i: number, wording: string) => {
    const q = questions[i];
    const others = questions.filter((_, n) => n !== i).map((x) => x.key);
    // The key follows the wording until the product is published with it.
    change(i, { wording, key: q?.key === keyOf(q?.wording ?? "", others) ? keyOf(wording, others) : q?.key });
  };
  return (
    <>
      <div className="pair">
        <LineSetting {...p} name="entry" wording={t("One entry is called")} />
        <span />
        <WholeSetting {...p} name="least" wording={t("Fewest")} suffix={t("entries")} />
        <WholeSetting {...p} name="most" wording={t("Most")} suffix={t("entries")} />
      </div>
      <div className="question">
        <div className="question-wording">{t("Asked for each entry")}</div>
        {questions.map((q, i) => {
          const kind = kinds[q.kind];
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: while it is typed, a question is known by its place
            <details key={i} className="entry" open={questions.length === 1}>
              <summary>
                {q.wording || q.key} <span className="quiet small">{t(kind?.name ?? q.kind)}</span>
              </summary>
              <div className="choice-edit">
                <Input
                  aria-label={t("Wording of question {{n}}", { n: i + 1 })}
                  value={q.wording}
                  onChange={(e) => word(i, e.target.value)}
                />
                <Select
                  aria-label={t("Kind of question {{n}}", { n: i + 1 })}
                  value={q.kind}
                  onChange={(k) => change(i, { kind: k, settings: kinds[k]?.begin?.(t) })}
                  options={able.map(([value, k]) => ({ value, label: t(k.name) }))}
                />
                <Button
                  aria-label={t("Move {{what}} up", { what: q.wording })}
                  disabled={i === 0}
                  onClick={() => set(questions.toSpliced(i, 1).toSpliced(i - 1, 0, q))}
                >
                  ↑
                </Button>
                <Button
                  aria-label={t("Take {{what}} away", { what: q.wording })}
                  onClick={() => set(questions.toSpliced(i, 1))}
                >
                  ×
                </Button>
              </div>
              <div className="row question">
                <Checkbox
                  checked={q.required ?? false}
                  onChange={(e) => change(i, { required: e.target.checked || undefined })}
                >
                  {t("Must be answered")}
                </Checkbox>
                <Checkbox
                  checked={q.half ?? false}
                  onChange={(e) => change(i, { half: e.target.checked || undefined })}
                >
                  {t("beside its neighbour")}
                </Checkbox>
                <span className="small quiet code">{q.key}</span>
              </div>
              {kind && (
                <kind.Editor
                  key={q.kind}
                  settings={q.settings ?? {}}
                  digits={p.digits}
                  onChange={(settings) => change(i, { settings })}
                />
              )}
            </details>
          );
        })}
        <Button
          onClick={() => {
            const wording = t("Name");
            const key = keyOf(
              wording,
              questions.map((q) => q.key),
            );
            set([...questions, { key, kind: "short_text", moment: "choosing", wording, required: true }]);
          }}
        >
          {t("Add a question")}
        </Button>
      </div>
    </>
  );
}
