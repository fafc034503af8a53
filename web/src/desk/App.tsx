import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Dropdown, Input, type InputRef, Modal } from "antd";
import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { NavLink, Outlet, Route, Routes, useNavigate } from "react-router";
import { api, Problem, take } from "../shared/api/client";
import { local } from "../shared/format";
import { languages, speak } from "../shared/i18n";
import { Trouble } from "../shared/Trouble";
import { Bench } from "./bench/Bench";
import { SheetBench } from "./bench/SheetBench";
import { Calendar } from "./calendar/Calendar";
import { HereContext, useHere } from "./here";
import { Coupons } from "./money/Coupons";
import { Money } from "./money/Money";
import { Terms } from "./money/Terms";
import { Orders } from "./orders/Orders";
import { Groups } from "./products/Groups";
import { Products } from "./products/Products";
import { Stock } from "./products/Stock";
import { SignIn } from "./SignIn";
import { Outbox } from "./settings/Outbox";
import { Today } from "./today/Today";
import { typing } from "./typing";
import { Work } from "./work/Work";
import { Worksheet } from "./work/Worksheet";
import "./desk.css";

export function App() {
  const session = useQuery({
    queryKey: ["session"],
    queryFn: () => take(api.GET("/api/desk/session")),
    retry: false,
    refetchInterval: 60_000,
  });
  if (session.error) {
    const out = session.error instanceof Problem && session.error.status === 401;
    return out ? <SignIn /> : <Trouble error={session.error} again={() => session.refetch()} />;
  }
  if (!session.data) return null;
  const here = { session: session.data, today: local(session.data.now, session.data.zone).day };
  return (
    <HereContext.Provider value={here}>
      <Routes>
        <Route element={<Frame />}>
          <Route index element={<Today />} />
          <Route path="products" element={<Products />} />
          <Route path="products/stock" element={<Stock />} />
          <Route path="products/groups" element={<Groups />} />
          <Route path="products/:id" element={<Bench />} />
          <Route path="sheets/:id" element={<SheetBench />} />
          <Route path="orders/:line?" element={<Orders />} />
          <Route path="work" element={<Work />} />
          <Route path="work/:product/:step" element={<Worksheet />} />
          <Route path="calendar" element={<Calendar />} />
          <Route path="money" element={<Money />} />
          <Route path="money/coupons" element={<Coupons />} />
          <Route path="money/terms" element={<Terms />} />
          <Route path="outbox" element={<Outbox />} />
          <Route path="*" element={<Nowhere />} />
        </Route>
      </Routes>
    </HereContext.Provider>
  );
}

const places = ["/", "/products", "/orders", "/work", "/calendar", "/money"];

function Frame() {
  const { t } = useTranslation();
  const { session } = useHere();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const search = useRef<InputRef>(null);
  const [keys, setKeys] = useState(false);
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (typing(e)) return;
      const place = places[Number(e.key) - 1];
      if (place) navigate(place);
      else if (e.key === "/") search.current?.focus();
      else if (e.key === "?") setKeys(true);
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [navigate]);
  const names = [t("Today"), t("Products"), t("Orders"), t("Work"), t("Calendar"), t("Money")];
  const leave = async () => {
    await take(api.DELETE("/api/desk/session")).catch(() => undefined);
    queries.clear();
    window.location.assign("/desk");
  };
  const menu = [
    { key: "outbox", label: t("Outbox"), onClick: () => navigate("/outbox") },
    { key: "shop", label: <a href="/">{t("Open the shop")}</a> },
    { key: "keys", label: t("Keys"), onClick: () => setKeys(true) },
    ...Object.entries(languages).map(([code, name]) => ({
      key: code,
      label: name,
      onClick: () => speak(code),
    })),
    { key: "out", label: t("Sign out"), onClick: leave },
  ];
  return (
    <div className="desk">
      <header className="desk-bar">
        <span className="brand">Ruvo</span>
        <nav aria-label={t("Places")}>
          {places.map((to, i) => (
            <NavLink key={to} to={to} end={to === "/"}>
              {names[i]}
            </NavLink>
          ))}
        </nav>
        <span className="grow" />
        <Input
          ref={search}
          className="desk-search"
          prefix={<kbd>/</kbd>}
          placeholder={t("name, address or number")}
          aria-label={t("Search orders")}
          onPressEnter={(e) => navigate(`/orders?text=${encodeURIComponent(e.currentTarget.value)}`)}
        />
        <Dropdown menu={{ items: menu }} trigger={["click"]}>
          <Button>{session.name}</Button>
        </Dropdown>
      </header>
      <Outlet />
      <Modal open={keys} onCancel={() => setKeys(false)} footer={null} title={t("Keys")}>
        <dl className="keys">
          {[
            ["1 – 6", t("the six places")],
            ["/", t("search orders")],
            ["j k", t("next and previous")],
            ["Enter", t("open")],
            ["x", t("tick")],
            ["?", t("this list")],
          ].map(([key, what]) => (
            <div key={key}>
              <dt>
                <kbd>{key}</kbd>
              </dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
      </Modal>
    </div>
  );
}

function Nowhere() {
  const { t } = useTranslation();
  return (
    <main className="desk-page">
      <div className="empty">{t("There is nothing at this address.")}</div>
    </main>
  );
}
