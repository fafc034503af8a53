import { useTranslation } from "react-i18next";
import { NavLink } from "react-router";

// Tabs lead to the pages of one place; over says that a page has others under
// it.
export function Tabs({
  label,
  pages,
}: {
  label: string;
  pages: { to: string; name: string; over?: boolean }[];
}) {
  return (
    <nav className="desk-tabs" aria-label={label}>
      {pages.map((p) => (
        <NavLink key={p.to} to={p.to} end={!p.over}>
          {p.name}
        </NavLink>
      ))}
    </nav>
  );
}

export function MoneyTabs() {
  const { t } = useTranslation();
  return (
    <Tabs
      label={t("Money")}
      pages={[
        { to: "/money", name: t("What came in") },
        { to: "/money/entries", name: t("Entries") },
        { to: "/money/earnings", name: t("What it earns") },
        { to: "/money/what-if", name: t("What if") },
        { to: "/money/transfers", name: t("Transfers"), over: true },
        { to: "/money/coupons", name: t("Coupons") },
        { to: "/money/vouchers", name: t("Vouchers") },
        { to: "/money/terms", name: t("Terms of orders") },
      ]}
    />
  );
}

export function OrderTabs() {
  const { t } = useTranslation();
  return (
    <Tabs
      label={t("Orders")}
      pages={[
        { to: "/orders", name: t("All orders") },
        { to: "/orders/customers", name: t("Customers"), over: true },
      ]}
    />
  );
}

export function ProductTabs() {
  const { t } = useTranslation();
  return (
    <Tabs
      label={t("Products")}
      pages={[
        { to: "/products", name: t("Products and sheets") },
        { to: "/products/stock", name: t("Stock") },
        { to: "/products/groups", name: t("Customer groups") },
        { to: "/products/checkout", name: t("Checkout") },
        { to: "/products/rehearsals", name: t("Rehearsals") },
      ]}
    />
  );
}
