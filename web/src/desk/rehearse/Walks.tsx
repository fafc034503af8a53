import { Button, Progress } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { Trouble } from "../../shared/Trouble";
import { useWalks } from "./useWalks";

const walks = 10;

// Walks has the program walk a draft by itself, and shows how far each walk came.
export function Walks({ product }: { product: number }) {
  const { t } = useTranslation();
  const { came, wanted, problem, walk, stop } = useWalks(product);
  const under = wanted > 0;
  return (
    <section className="stack" aria-labelledby="walk-itself">
      <h3 id="walk-itself">{t("Have it walked")}</h3>
      <p className="quiet">
        {t(
          "Customers with made-up answers go the whole path: from the first question to what is handed over. What stops one of them may stop a real one.",
        )}
      </p>
      <div className="row">
        {under ? (
          <Button onClick={stop}>{t("Stop")}</Button>
        ) : (
          <Button onClick={() => walk(walks)}>
            {came ? t("Walk with other answers") : t("Have it walked {{n}} times", { n: walks })}
          </Button>
        )}
        {!under && came && came.failed.length > 0 && (
          <Button onClick={() => walk(came.walks, came.seed)}>{t("Walk the same again")}</Button>
        )}
        {under && (
          <Progress
            className="grow"
            aria-label={t("How far the walks are")}
            percent={(100 * (came?.walks ?? 0)) / wanted}
            format={() => t("{{at}} of {{of}}", { at: came?.walks ?? 0, of: wanted })}
          />
        )}
      </div>
      <Trouble error={problem} />
      {came && <Came of={came} ended={!under} />}
    </section>
  );
}

// Came is how far the walks came.
function Came({ of, ended }: { of: Schemas["Walked"]; ended: boolean }) {
  const { t } = useTranslation();
  const stages = [
    { name: t("began"), n: of.walks },
    { name: t("paid"), n: of.paid },
    { name: t("answered all"), n: of.briefed },
    { name: t("got what they ordered"), n: of.done },
  ];
  return (
    <div className="stack" role="status">
      <dl className="walk-stages">
        {stages.map((s) => (
          <div key={s.name}>
            <dt>{s.name}</dt>
            <dd>
              <span className="walk-bar" aria-hidden="true">
                <svg viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
                  <rect width={(100 * s.n) / of.walks} height="10" />
                </svg>
              </span>
              <span className="num">{s.n}</span>
            </dd>
          </div>
        ))}
      </dl>
      {of.failed.length === 0
        ? ended && (
            <p className="mark good">
              ● {t("Every walk came to the end, and all of it computes the same again.")}
            </p>
          )
        : of.failed.map((f) => <Failed key={f.walk} of={f} />)}
    </div>
  );
}

function Failed({ of }: { of: Schemas["WalkFailed"] }) {
  const { t } = useTranslation();
  const steps: Record<Schemas["WalkFailed"]["step"], string> = {
    choosing: t("while choosing"),
    checkout: t("at the checkout"),
    paying: t("while paying"),
    brief: t("after paying"),
    work: t("in the work"),
    handover: t("when it was handed over"),
    check: t("when all was computed again"),
  };
  return (
    <details className="walk-failed">
      <summary>
        <span className="mark bad">
          ▲ {t("Walk {{n}} ended {{where}}", { n: of.walk, where: steps[of.step] })}
        </span>{" "}
        {of.why}
      </summary>
      <dl className="walk-answers small">
        {of.answers.map((a) => (
          <div key={`${a.wording} ${a.answer}`}>
            <dt>{a.wording}</dt>
            <dd>{a.answer}</dd>
          </div>
        ))}
      </dl>
    </details>
  );
}
