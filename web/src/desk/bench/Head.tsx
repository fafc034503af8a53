import { Button, Dropdown } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { KeptMark } from "./Kept";
import type { useDraft } from "./useDraft";

// Looking is what is looked at beside the draft.
export type Looking = "differences" | "editions" | "replay" | "take" | "rehearse";

type Props = {
  draft: ReturnType<typeof useDraft>;
  findings: Schemas["Finding"][];
  publish: () => void;
  publishing: boolean;
  look: (at: Looking) => void;
};

// Head says which product it is and how far its draft is kept, and has what can
// be done with the draft as a whole.
export function Head({ draft, findings, publish, publishing, look }: Props) {
  const { t } = useTranslation();
  const { product } = draft;
  const errors = findings.filter((f) => f.error).length;
  return (
    <div className="bench-head row">
      <h1>{draft.draft.title || t("Product without a title")}</h1>
      <span className="quiet small">
        {product.edition > 0 ? t("edition {{n}} is on sale", { n: product.edition }) : t("not on sale yet")}
        {product.changed && product.edition > 0 && ` · ${t("draft has changes")}`}
        {" · "}
        <KeptMark kept={draft.kept} dirty={draft.dirty} />
      </span>
      <span className="grow" />
      {findings.length > 0 && (
        <span className={errors > 0 ? "mark bad" : "mark attention"}>
          ▲{" "}
          {errors > 0
            ? t("{{count}} mistakes", { count: errors })
            : t("{{count}} things to look at", { count: findings.length })}
        </span>
      )}
      <Button disabled={!draft.canUndo} onClick={() => draft.travel("undo")} title="Ctrl+Z">
        {t("Undo")}
      </Button>
      <Button disabled={!draft.canRedo} onClick={() => draft.travel("redo")} title="Ctrl+Shift+Z">
        {t("Redo")}
      </Button>
      <More product={product} look={look} />
      <Button onClick={() => look("rehearse")}>{t("Rehearse")}</Button>
      <Button
        type="primary"
        loading={publishing}
        disabled={errors > 0 || !product.changed}
        onClick={() => publish()}
      >
        {t("Publish edition {{n}}", { n: product.edition + 1 })}
      </Button>
    </div>
  );
}

// More has what is looked at now and then.
function More({ product, look }: { product: Schemas["DeskProduct"]; look: (at: Looking) => void }) {
  const { t } = useTranslation();
  return (
    <Dropdown
      trigger={["click"]}
      menu={{
        items: [
          {
            key: "differences",
            label: t("What the draft changes"),
            disabled: product.edition === 0,
          },
          { key: "editions", label: t("Earlier editions"), disabled: product.edition === 0 },
          {
            key: "replay",
            label: t("The last orders under this draft"),
            disabled: product.edition === 0,
          },
          {
            key: "take",
            label: t("Questions into a sheet …"),
            disabled: (product.draft.questions ?? []).length === 0,
          },
          ...(product.edition > 0
            ? [
                {
                  key: "stops",
                  label: <Link to={`/products/${product.id}/stops`}>{t("Where customers stop")}</Link>,
                },
                {
                  key: "shop",
                  label: (
                    <a href={`/p/${product.slug}`} target="_blank" rel="noreferrer">
                      {t("See it in the shop")}
                    </a>
                  ),
                },
              ]
            : []),
        ],
        onClick: ({ key }) => {
          if (key !== "shop" && key !== "stops") look(key as Looking);
        },
      }}
    >
      <Button>{t("More")}</Button>
    </Dropdown>
  );
}
