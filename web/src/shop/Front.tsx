import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Schemas } from "../shared/api/client";
import { money } from "../shared/format";
import { lost } from "../shared/lost";
import { Trouble } from "../shared/Trouble";
import { useShop } from "./App";

export function Front() {
  const { t } = useTranslation();
  const shop = useShop();
  if (lost(shop)) return <Trouble error={shop.error} again={() => shop.refetch()} />;
  if (!shop.data) return null;
  return (
    <div className="front">
      <h1>{shop.data.tagline || shop.data.business}</h1>
      {shop.data.products.length === 0 && (
        <div className="empty">{t("Nothing is on sale yet. Come back soon.")}</div>
      )}
      <ul className="shelf">
        {shop.data.products.map((p) => (
          <li key={p.slug}>
            <Link to={`/p/${p.slug}`} className="shelf-product">
              {p.picture && <img src={`/pictures/${p.picture}`} alt="" width="640" height="400" />}
              <div className="shelf-words">
                <h2>{p.title}</h2>
                <p>{p.summary}</p>
                <Price p={p} wished={shop.data.currency} />
              </div>
            </Link>
          </li>
        ))}
      </ul>
    </div>
  );
}

function Price({ p, wished }: { p: Schemas["ProductCard"]; wished: string }) {
  const { t } = useTranslation();
  const price = money(p.price, p.currency);
  return (
    <span className="num shelf-price">
      {p.sold_out && <span className="mark attention">{t("sold out")}</span>}{" "}
      {!p.sold_out && p.left !== undefined && (
        <span className="mark attention">{t("{{count}} left", { count: p.left })}</span>
      )}{" "}
      {p.hint === "decided"
        ? t("you decide what it is worth")
        : p.hint === "from"
          ? t("from {{price}}", { price })
          : p.hint === "chosen"
            ? t("by what you take")
            : price}
      {p.currency !== wished && p.hint !== "decided" && (
        <span className="small quiet"> {t("only in {{currency}}", { currency: p.currency })}</span>
      )}
    </span>
  );
}
