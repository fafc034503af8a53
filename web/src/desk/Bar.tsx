import { useQueryClient } from "@tanstack/react-query";
import { Button, Dropdown, Input, type InputRef, Modal } from "antd";
import { useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import { NavLink, useLocation, useNavigate } from "react-router";
import { api, take } from "../shared/api/client";
import { home, rehearsing } from "../shared/home";
import { languages, speak } from "../shared/i18n";
import { useHere } from "./here";
import { typing } from "./typing";

// usePlaces gives the six places in the order of the work, with their names.
function usePlaces() {
  const { t } = useTranslation();
  return [
    { to: "/", name: t("Today") },
    // What is sold and how is not changed in a rehearsal.
    ...(rehearsing ? [] : [{ to: "/products", name: t("Products") }]),
    { to: "/orders", name: t("Orders") },
    { to: "/work", name: t("Work") },
    { to: "/calendar", name: t("Calendar") },
    { to: "/money", name: t("Money") },
  ];
}

type Props = { showKeys: () => void };

// Bar leads to the places. On a narrow screen it is one row: the place with a
// menu of all of them, and the search.
export function Bar({ showKeys }: Props) {
  const { t } = useTranslation();
  const { session } = useHere();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const places = usePlaces();
  const search = useRef<InputRef>(null);
  usePlaceKeys(places, () => search.current?.focus(), showKeys);
  const person = usePersonMenu(showKeys);
  const here =
    places.find((p) => p.to !== "/" && pathname.startsWith(p.to)) ??
    (pathname === "/" ? places[0] : undefined);
  return (
    <header className="desk-bar">
      <span className="brand">Ruvo</span>
      <nav className="desk-places" aria-label={t("Places")}>
        {places.map(({ to, name }) => (
          <NavLink key={to} to={to} end={to === "/"}>
            {name}
            {to === "/orders" && session.new > 0 && (
              <span
                className="count num"
                role="img"
                aria-label={t("{{count}} new orders", { count: session.new })}
              >
                {session.new}
              </span>
            )}
          </NavLink>
        ))}
      </nav>
      <Dropdown
        trigger={["click"]}
        menu={{
          selectedKeys: here ? [here.to] : [],
          items: [
            ...places.map(({ to, name }) => ({ key: to, label: name, onClick: () => navigate(to) })),
            { type: "divider" },
            { key: "who", label: session.name, disabled: true },
            ...person,
          ],
        }}
      >
        <Button
          type="text"
          className="desk-menu"
          aria-label={t("Places: {{here}}", { here: here?.name ?? "" })}
        >
          <span aria-hidden="true">☰</span> {here?.name ?? t("Places")}
        </Button>
      </Dropdown>
      <span className="grow" />
      <Input
        ref={search}
        className="desk-search"
        prefix={<kbd>/</kbd>}
        placeholder={t("name, address or number")}
        aria-label={t("Search orders")}
        onPressEnter={(e) => navigate(`/orders?text=${encodeURIComponent(e.currentTarget.value)}`)}
      />
      <Dropdown menu={{ items: person }} trigger={["click"]}>
        <Button className="desk-person">{session.name}</Button>
      </Dropdown>
    </header>
  );
}

// usePersonMenu gives what stands behind the person's name.
function usePersonMenu(showKeys: () => void) {
  const { t } = useTranslation();
  const { session } = useHere();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const leave = async () => {
    await take(api.DELETE("/api/desk/session")).catch(() => undefined);
    queries.clear();
    window.location.assign(`${home}/desk`);
  };
  const speaking = Object.entries(languages).map(([code, name]) => ({
    key: code,
    label: name,
    onClick: () => speak(code),
  }));
  const shop = { key: "shop", label: <a href={`${home}/`}>{t("Open the shop")}</a> };
  const keys = { key: "keys", label: t("Keys"), onClick: showKeys };
  if (rehearsing) return [shop, keys, ...speaking];
  return [
    { key: "settings", label: t("Settings"), onClick: () => navigate("/settings") },
    { key: "outbox", label: t("Outbox"), onClick: () => navigate("/outbox") },
    { key: "log", label: t("Log"), onClick: () => navigate("/log") },
    { key: "sessions", label: t("Where you are signed in"), onClick: () => navigate("/sessions") },
    ...(session.simulated
      ? [{ key: "simulated", label: <a href={session.simulated}>{t("Simulated payments")}</a> }]
      : []),
    ...(session.simulated_bank
      ? [{ key: "bank", label: <a href={session.simulated_bank}>{t("Simulated bank")}</a> }]
      : []),
    shop,
    keys,
    ...speaking,
    { key: "out", label: t("Sign out"), onClick: leave },
  ];
}

// usePlaceKeys opens a place by its number, the search and the list of keys.
function usePlaceKeys(places: { to: string }[], find: () => void, showKeys: () => void) {
  const navigate = useNavigate();
  const latest = useRef({ places, find, showKeys });
  latest.current = { places, find, showKeys };
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (typing(e)) return;
      const { places, find, showKeys } = latest.current;
      const place = places[Number(e.key) - 1];
      if (place) navigate(place.to);
      else if (e.key === "/") find();
      else if (e.key === "?") showKeys();
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [navigate]);
}

// Keys lists the keys.
export function Keys({ open, close }: { open: boolean; close: () => void }) {
  const { t } = useTranslation();
  return (
    <Modal open={open} onCancel={close} footer={null} title={t("Keys")}>
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
  );
}
