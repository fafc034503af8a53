import { type ReactNode, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../api/client";
import { money, plain, plainFine } from "../format";
import "./slip.css";

export type Row = Schemas["Slip"]["lines"][number];

type Props = {
  slip: Schemas["Slip"];
  // stale says that an answer changed since; the amounts are not its price yet
  stale?: boolean;
  title?: string;
  // wording gives how the question of a line is worded
  wording?: (line: Row) => string | undefined;
  // go leads to the question of a line
  go?: (line: Row) => void;
  // marked is the question whose lines are marked
  marked?: string;
  // steps say how the lines came about, rule by rule, for who sells it
  steps?: Schemas["TraceStep"][];
  // children stand below the total
  children?: ReactNode;
};

// Slip shows the computed price: a narrow column of lines with dotted leaders,
// under each the reason for its amount, a double rule above the total, and
// below it the tax and what is due when. A line tells on request which answer
// made it.
export function Slip({ slip, stale, title, wording, go, marked, steps = [], children }: Props) {
  const { t } = useTranslation();
  const [opened, setOpened] = useState<string>();
  const priced = slip.lines.filter((l) => (l.part ?? "") === "" || l.part === "extra");
  const after = slip.lines.filter((l) => !priced.includes(l));
  const added = slip.taxes.filter((x) => x.added && x.amount !== 0);
  const name = (line: Row, i: number) => `${line.of ?? 0} ${line.question ?? ""} ${line.part ?? ""} ${i}`;
  const row = (line: Row) => {
    const index = slip.lines.indexOf(line);
    const key = name(line, index);
    const asked = line.question ? wording?.(line) : undefined;
    const made = steps.filter((s) => s.line === index);
    const words = (
      <>
        <span>
          {line.label}
          {line.tax !== undefined && slip.taxes.length > 1 && (
            <span className="quiet small"> {t("{{percent}} % tax", { percent: line.tax })}</span>
          )}
        </span>
        <i aria-hidden="true" />
        <span className="num">{plain(line.amount, slip.currency)}</span>
      </>
    );
    return (
      <div key={key} className={line.question && line.question === marked ? "slip-row marked" : "slip-row"}>
        {asked || made.length > 0 ? (
          <button
            type="button"
            className="slip-line"
            aria-expanded={opened === key}
            onClick={() => setOpened(opened === key ? undefined : key)}
          >
            {words}
          </button>
        ) : (
          <div className="slip-line">{words}</div>
        )}
        {line.why && <div className="slip-why">{line.why}</div>}
        {opened === key && made.length > 0 && <Steps steps={made} currency={slip.currency} />}
        {asked && opened === key && (
          <div className="slip-made">
            {t("made by the answer to “{{wording}}”", { wording: asked })}
            {go && (
              <>
                {" "}
                <button type="button" className="linkish" onClick={() => go(line)}>
                  {t("Show it")}
                </button>
              </>
            )}
          </div>
        )}
      </div>
    );
  };
  return (
    <section className={stale ? "slip stale" : "slip"} aria-busy={stale} aria-label={title ?? t("Slip")}>
      {title && <h3>{title}</h3>}
      {priced.map(row)}
      {slip.stated?.map((s) => (
        <div className="slip-line slip-stated" key={`${s.of ?? 0} ${s.label}`}>
          <span>{s.label}</span>
          <i aria-hidden="true" />
          <span className="num">{s.words}</span>
        </div>
      ))}
      {(slip.extras ?? 0) !== 0 && (
        <div className="slip-why slip-sum">
          <span>{t("Extras together")}</span>
          <span className="num">{plain(slip.extras ?? 0, slip.currency)}</span>
        </div>
      )}
      {after.map(row)}
      {added.map((x) => (
        <div className="slip-line" key={x.percent}>
          <span>
            {t("Tax: {{percent}} % of {{net}}", { percent: x.percent, net: plain(x.net, slip.currency) })}
          </span>
          <i aria-hidden="true" />
          <span className="num">{plain(x.amount, slip.currency)}</span>
        </div>
      ))}
      <div className="slip-line slip-total">
        <span>{t("Total")}</span>
        <i aria-hidden="true" />
        <span className="num">{stale ? t("computing …") : money(slip.total, slip.currency)}</span>
      </div>
      <Below slip={slip} />
      {children}
    </section>
  );
}

// Steps lists rules in the order in which they were looked at: what each comes
// to, or why it does not count.
export function Steps({ steps, currency }: { steps: Schemas["TraceStep"][]; currency: string }) {
  const { t } = useTranslation();
  return (
    <ol className="slip-steps">
      {steps.map((s, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a step is known by its place
        <li key={i} className={s.not ? "not" : undefined}>
          <span>{s.rule}</span>{" "}
          {s.not ? (
            <span className="quiet">{t("– not here: {{why}}", { why: s.not })}</span>
          ) : (
            <span className="num">→ {plainFine(s.amount, currency)}</span>
          )}
        </li>
      ))}
    </ol>
  );
}

// Below tells what belongs to the total: the tax in it, and what is due when.
function Below({ slip }: { slip: Schemas["Slip"] }) {
  const { t } = useTranslation();
  const amount = (a: number) => plain(a, slip.currency);
  return (
    <>
      {slip.taxes
        .filter((x) => !x.added && x.amount !== 0)
        .map((x) => (
          <div className="slip-why" key={x.percent}>
            {t("Tax included: {{percent}} % of {{net}} is {{amount}}", {
              percent: x.percent,
              net: amount(x.net),
              amount: amount(x.amount),
            })}
          </div>
        ))}
      {slip.taxes
        .filter((x) => x.exempt)
        .map((x) => (
          <div className="slip-why" key={x.exempt}>
            {t("No tax on {{net}}: {{reason}}", { net: amount(x.net), reason: x.exempt })}
          </div>
        ))}
      {slip.due?.map((d) => (
        <div className="slip-line slip-due" key={d.day}>
          <span>{d.day === "" ? t("Due now") : t("Due {{when}}", { when: d.words })}</span>
          <i aria-hidden="true" />
          <span className="num">{amount(d.amount)}</span>
        </div>
      ))}
      {slip.vouchers?.map((v) => (
        <div key={v.code}>
          <div className="slip-line slip-due">
            <span>{t("Voucher {{code}} pays", { code: v.code })}</span>
            <i aria-hidden="true" />
            <span className="num">{amount(-v.amount)}</span>
          </div>
          {v.tax && v.tax.amount !== 0 && (
            <div className="slip-why">
              {t("{{amount}} of the tax was taken when it was sold", { amount: amount(v.tax.amount) })}
            </div>
          )}
        </div>
      ))}
      {slip.to_pay !== undefined && (
        <div className="slip-line slip-due">
          <strong>{t("To pay now")}</strong>
          <i aria-hidden="true" />
          <strong className="num">{amount(slip.to_pay)}</strong>
        </div>
      )}
      {(slip.held ?? 0) > 0 && (
        <>
          <div className="slip-line slip-due">
            <span>{t("Held as security")}</span>
            <i aria-hidden="true" />
            <span className="num">{amount(slip.held ?? 0)}</span>
          </div>
          <div className="slip-why">{t("given back afterwards; not in the total")}</div>
        </>
      )}
    </>
  );
}
