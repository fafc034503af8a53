import { useRef } from "react";
import { useTranslation } from "react-i18next";
import { DecimalBox } from "../../shared/questions/boxes";
import { useTrial } from "./trial";

type Props = { id: string; formula: string; change: (formula: string) => void };

// A table in a formula: rate(size, "a4", 3, "a3", 5, 9), its entries numbers.
const form = /\brate\(\s*([a-z][a-z0-9_]*)\s*,((?:\s*"[^"]*"\s*,\s*-?[\d.]+\s*,?)+)\s*(-?[\d.]+)?\s*\)/;
const pair = /"([^"]*)"\s*,\s*(-?[\d.]+)/g;

// RateTable edits the first table of a formula: a number for each choice of its
// question, and one for all others.
export function RateTable({ id, formula, change }: Props) {
  const { t } = useTranslation();
  const names = useTrial()?.names ?? [];
  const seen = useRef({ name: "", codes: new Set<string>() });
  const found = form.exec(formula);
  if (!found) return null;
  const [whole, name = "", entries = "", others] = found;
  const of = names.find((n) => n.name === name);
  const given = new Map([...entries.matchAll(pair)].map((m) => [m[1] ?? "", m[2] ?? ""]));
  // A row stays while its number is typed anew, also before the server said which there are.
  if (seen.current.name !== name) seen.current = { name, codes: new Set() };
  for (const code of given.keys()) seen.current.codes.add(code);
  const codes = [...new Set([...(of?.codes ?? []), ...(of ? given.keys() : seen.current.codes)])];
  const put = (next: Map<string, string>, rest: string | undefined) => {
    if (next.size === 0) return; // a table has an entry
    const args = [...next].map(([code, n]) => `"${code}", ${n}`);
    if (rest !== undefined) args.push(rest);
    change(formula.replace(whole, () => `rate(${name}, ${args.join(", ")})`));
  };
  return (
    <table className="rate-table small">
      <caption>{t("The table of “{{wording}}”", { wording: of?.words ?? name })}</caption>
      <tbody>
        {codes.map((code) => (
          <tr key={code}>
            <th scope="row">
              <code>{code}</code>
            </th>
            <td>
              <DecimalBox
                id={`${id}-rate-${code}`}
                label={t("Number for {{code}}", { code })}
                value={given.get(code)}
                onChange={(n) => {
                  const next = new Map(given);
                  if (n === undefined) next.delete(code);
                  else next.set(code, n);
                  put(next, others);
                }}
              />
            </td>
          </tr>
        ))}
        <tr>
          <th scope="row">{t("all others")}</th>
          <td>
            <DecimalBox
              id={`${id}-rate-others`}
              label={t("Number for all others")}
              value={others}
              onChange={(n) => put(given, n)}
            />
          </td>
        </tr>
      </tbody>
    </table>
  );
}
