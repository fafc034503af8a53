import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useTranslation } from "react-i18next";
import { Link, Outlet, Route, Routes, useLocation } from "react-router";
import { api, take } from "../shared/api/client";
import { rehearsing } from "../shared/home";
import { languages, speak } from "../shared/i18n";
import { Banner } from "../shared/rehearsal/Banner";
import { Basket } from "./Basket";
import { Checkout } from "./Checkout";
import { see } from "./currency";
import { ForgetMe } from "./ForgetMe";
import { Front } from "./Front";
import { GiftPage } from "./gift/GiftPage";
import { BringBack } from "./KeepBasket";
import { useBasket } from "./keep";
import { Mails } from "./Mails";
import { Mine } from "./Mine";
import { OrderPage } from "./OrderPage";
import { Join, OpenPass, usePass } from "./Pass";
import { Paid } from "./pay/Paid";
import { ProductPage } from "./product/ProductPage";
import { useSyncedBasket } from "./useSyncedBasket";
import { Voucher } from "./Voucher";
import "./shop.css";

export function useShop() {
  return useQuery({ queryKey: ["shop"], queryFn: () => take(api.GET("/api/shop")), staleTime: 60_000 });
}

export function App() {
  return (
    <Routes>
      <Route element={<Page />}>
        <Route index element={<Front />} />
        <Route path="p/:slug" element={<ProductPage />} />
        <Route path="basket" element={<Basket />} />
        <Route path="basket/:secret" element={<BringBack />} />
        <Route path="checkout" element={<Checkout />} />
        <Route path="o/:link" element={<OrderPage />} />
        <Route path="gift/:link" element={<GiftPage />} />
        <Route path="paid" element={<Paid />} />
        <Route path="voucher" element={<Voucher />} />
        <Route path="mine" element={<Mine />} />
        <Route path="join/:invite?" element={<Join />} />
        <Route path="pass/:token" element={<OpenPass />} />
        {rehearsing && <Route path="mails" element={<Mails />} />}
        <Route path="*" element={<Nowhere />} />
      </Route>
    </Routes>
  );
}

function Page() {
  const { t, i18n } = useTranslation();
  const shop = useShop();
  const pass = usePass();
  const [basket] = useBasket();
  useSyncedBasket(pass.data?.email);
  const { pathname } = useLocation();
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new page begins at its top
  useEffect(() => {
    window.scrollTo(0, 0);
  }, [pathname]);
  return (
    <div className="shop">
      <Banner />
      <header className="shop-bar">
        <Link to="/" className="brand">
          {shop.data?.business ?? t("Shop")}
        </Link>
        <nav aria-label={t("Shop")}>
          {/* What comes later stands first, where it pushes nothing away. */}
          {shop.data?.currencies
            .filter((c) => c !== shop.data.currency)
            .map((c) => (
              <button
                key={c}
                type="button"
                className="linkish"
                aria-label={t("Prices in {{currency}}", { currency: c })}
                onClick={() => see(c)}
              >
                {c}
              </button>
            ))}
          {pass.data?.group && <Link to="/join">{pass.data.group}</Link>}
          <Link to="/basket">
            {t("Basket")} {basket.length > 0 && <span className="count num">{basket.length}</span>}
          </Link>
          {Object.entries(languages)
            .filter(([code]) => i18n.language !== code)
            .map(([code, name]) => (
              <button key={code} type="button" className="linkish" lang={code} onClick={() => speak(code)}>
                {name}
              </button>
            ))}
        </nav>
      </header>
      <main>
        <Outlet />
      </main>
      <footer className="shop-foot small">
        <span>
          {shop.data?.business}
          {shop.data?.contact && (
            <>
              {" · "}
              <a href={`mailto:${shop.data.contact}`}>{shop.data.contact}</a>
            </>
          )}
          {shop.data?.postal && <span className="shop-postal">{shop.data.postal}</span>}
        </span>
        <Link to="/mine">{t("Your orders")}</Link>
        <Link to="/join">{t("Prices for groups")}</Link>
        <Link to="/voucher">{t("What is left of a voucher")}</Link>
        <ForgetMe />
      </footer>
    </div>
  );
}

function Nowhere() {
  const { t } = useTranslation();
  return (
    <div className="narrow">
      <h1>{t("There is nothing at this address.")}</h1>
      <p>
        <Link to="/">{t("See what we offer")}</Link>
      </p>
    </div>
  );
}
