import { useQuery } from "@tanstack/react-query";
import { useTranslation } from "react-i18next";
import { Link, useNavigate } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { money, plain } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { ProductTabs } from "../Tabs";
import { Beginning } from "./Beginning";
import { Sheets } from "./Sheets";

// span gives what one costs: one amount, or from the least to the most.
function span(p: Schemas["ProductRow"]) {
  const range = p.range;
  if (!range || range.least === range.most) return money(range?.least ?? p.price, p.currency);
  if (range.most >= 1_000_000_000) return `${money(range.least, p.currency)} –`;
  return `${plain(range.least, p.currency)} – ${money(range.most, p.currency)}${range.exact ? "" : " ~"}`;
}

export function Products() {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const products = useQuery({ queryKey: ["products"], queryFn: () => take(api.GET("/api/desk/products")) });
  const add = useChange({
    send: (body: { title: string; product?: number; ready?: string }) =>
      take(api.POST("/api/desk/products", { body })),
    done: (p) => navigate(`/products/${p.id}`),
  });
  if (products.error) return <Trouble error={products.error} again={() => products.refetch()} />;
  return (
    <main className="desk-page">
      <div className="row">
        <h1 className="grow">{t("Products")}</h1>
        <Beginning
          wording={t("Title of a new product")}
          likes={(products.data ?? []).map((p) => ({ id: p.id, title: p.title }))}
          busy={add.busy}
          begin={(b) => add.send({ title: b.title, product: b.like, ready: b.ready })}
        />
      </div>
      <ProductTabs />
      <Trouble error={add.problem} />
      {products.data?.length === 0 && (
        <div className="empty">{t("What you sell will be here. Give the first product a title.")}</div>
      )}
      <ul className="product-list">
        {products.data?.map((p) => (
          <li key={p.id}>
            <Link to={`/products/${p.id}`} className="product-row">
              {p.picture ? (
                <img src={`/pictures/${p.picture}`} alt="" width="96" height="60" />
              ) : (
                <span className="no-picture" />
              )}
              <span className="grow">
                <h2>{p.title}</h2>
                <span className="quiet small">
                  {p.edition > 0 ? t("edition {{n}} is on sale", { n: p.edition }) : t("not on sale yet")}
                </span>
              </span>
              {p.errors > 0 && (
                <span className="mark bad">▲ {t("{{count}} mistakes", { count: p.errors })}</span>
              )}
              {p.unsold && <span className="mark bad">▲ {t("cannot be sold")}</span>}
              {p.changed && p.edition > 0 && <span className="mark attention">{t("draft has changes")}</span>}
              <span className="num product-figure">{t("{{count}} orders", { count: p.orders })}</span>
              <span className="num product-figure">{span(p)}</span>
            </Link>
          </li>
        ))}
      </ul>
      {/* Not before the products are there, which would push it away from who aims at it. */}
      {products.data && <Sheets />}
    </main>
  );
}
