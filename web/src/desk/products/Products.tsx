import { useQuery } from "@tanstack/react-query";
import { useTranslation } from "react-i18next";
import { Link, useNavigate } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { money, plain } from "../../shared/format";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { Rows } from "../Rows";
import { ProductTabs } from "../Tabs";
import { Beginning } from "./Beginning";
import { Sheets } from "./Sheets";

// span gives what one costs: one amount, or from the least to the most.
function span(p: Schemas["ProductRow"]) {
  const range = p.range;
  if (!range || range.least === range.most) return money(range?.least ?? p.price, p.currency);
  if (range.unlimited) return `${money(range.least, p.currency)} –`;
  return `${plain(range.least, p.currency)} – ${money(range.most, p.currency)}${range.exact ? "" : " ~"}`;
}

export function Products() {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const products = useQuery({ queryKey: ["products"], queryFn: () => take(api.GET("/api/desk/products")) });
  const add = useChange({
    once: true,
    send: (body: { title: string; product?: number; ready?: string }) =>
      take(api.POST("/api/desk/products", { body })),
    done: (p) => navigate(`/products/${p.id}`),
  });
  if (lost(products)) return <Trouble error={products.error} again={() => products.refetch()} />;
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
      {products.data && products.data.length > 0 && (
        <Rows
          rows={products.data}
          by={(p) => p.id}
          columns={[
            {
              title: t("Product"),
              rowScope: "row",
              sorter: (a, b) => a.title.localeCompare(b.title),
              render: (_, p) => (
                <Link to={`/products/${p.id}`} className="product-link">
                  {p.picture ? (
                    <img src={`/pictures/${p.picture}`} alt="" width="96" height="60" />
                  ) : (
                    <span className="no-picture" />
                  )}
                  <span className="stack-tight">
                    <strong>{p.title}</strong>
                    {p.errors > 0 && (
                      <span className="mark bad">▲ {t("{{count}} mistakes", { count: p.errors })}</span>
                    )}
                    {p.unsold && <span className="mark bad">▲ {t("cannot be sold")}</span>}
                    {p.changed && p.edition > 0 && (
                      <span className="mark attention">{t("draft has changes")}</span>
                    )}
                  </span>
                </Link>
              ),
            },
            {
              title: t("On sale"),
              responsive: ["md"],
              sorter: (a, b) => a.edition - b.edition,
              render: (_, p) =>
                p.edition > 0 ? (
                  t("edition {{n}}", { n: p.edition })
                ) : (
                  <span className="quiet">{t("not on sale yet")}</span>
                ),
            },
            {
              title: t("Orders"),
              align: "right",
              className: "num",
              dataIndex: "orders",
              sorter: (a, b) => a.orders - b.orders,
            },
            {
              title: t("One costs"),
              align: "right",
              className: "num",
              sorter: (a, b) => (a.range?.least ?? a.price) - (b.range?.least ?? b.price),
              render: (_, p) => span(p),
            },
          ]}
        />
      )}
      {/* Not before the products are there, which would push it away from who aims at it. */}
      {products.data && <Sheets />}
    </main>
  );
}
