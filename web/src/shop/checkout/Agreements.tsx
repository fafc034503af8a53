import { Checkbox } from "antd";
import { useTranslation } from "react-i18next";
import type { Problem, Schemas } from "../../shared/api/client";
import { Html } from "../../shared/Html";
import { useExtras } from "../keep";

type Props = { texts: Schemas["AgreementText"][]; problem?: Problem };

// Agreements shows what is agreed to with an order: the terms of sale, which ordering
// agrees to, and news, which nobody has to want and nothing ticks for them.
export function Agreements({ texts, problem }: Props) {
  const { t } = useTranslation();
  const [extras, setExtras] = useExtras();
  const terms = texts.find((x) => x.kind === "terms");
  const news = texts.find((x) => x.kind === "news");
  return (
    <section className="whole-order agreements">
      {news && (
        <div>
          <Checkbox
            id="news"
            checked={extras.news === news.version}
            aria-describedby="news-text"
            onChange={(e) =>
              setExtras((old) => ({ ...old, news: e.target.checked ? news.version : undefined }))
            }
          >
            {t("Write me news")}
          </Checkbox>
          <div id="news-text" className="small quiet">
            <Html html={news.html} />
          </div>
          <Fault text={problem?.of("news")} />
        </div>
      )}
      {terms && (
        <div id="terms" tabIndex={-1}>
          <span>{t("Your order is placed under our terms of sale.")}</span>
          <TermsText text={terms} />
          <Fault text={problem?.of("terms")} />
        </div>
      )}
    </section>
  );
}

// TermsText is a text that can be read where it is spoken of.
export function TermsText({ text }: { text: Schemas["AgreementText"] }) {
  const { t } = useTranslation();
  return (
    <details className="signed-text">
      <summary>{t("Read the text, version {{version}}", { version: text.version })}</summary>
      <Html html={text.html} />
    </details>
  );
}

function Fault({ text }: { text?: string }) {
  if (!text) return null;
  return (
    <div className="question-fault" role="alert">
      {text}
    </div>
  );
}
