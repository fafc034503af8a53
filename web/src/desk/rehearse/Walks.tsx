import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";

const walks = 10;

// Walks has the program walk a draft by itself, and shows how far each walk came.
export function Walks({ product }: { product: number }) {
  const { t } = useTranslation();
  const walk = useChange({
    send: (body: Schemas["WalkWish"]) =>
      take(api.POST("/api/desk/products/{id}/walk", { params: { path: { id: product } }, body })),
  });
  return (
    <section className="stack" aria-labelledby="walk-itself">
      <h3 id="walk-itself">{t("Have it walked")}</h3>
      <p className="quiet">
        {t(
          "Customers with made-up answers go the whole path: from the first question to what is handed over. What stops one of them may stop a real one.",
        )}
      </p>
      <div className="row">
        <Button loading={walk.busy} onClick={() => walk.send({ walks })}>
          {walk.data ? t("Walk with other answers") : t("Have it walked {{n}} times", { n: walks })}
        </Button>
        {walk.data && walk.data.failed.length > 0 && (
          <Button disabled={walk.busy} onClick={() => walk.send({ walks, seed: walk.data?.seed })}>
            {t("Walk the same again")}
          </Button>
        )}
      </div>
      <Trouble error={walk.problem} />
      {walk.data && !walk.busy && <Came of={walk.data} />}
    </section>
  );
}

// Came is how far the walks came.
function Came({ of }: { of: Schemas["Walked"] }) {
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
      {of.failed.length === 0 ? (
        <p className="mark good">
          ● {t("Every walk came to the end, and all of it computes the same again.")}
        </p>
      ) : (
        of.failed.map((f) => <Failed key={f.walk} of={f} />)
      )}
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
