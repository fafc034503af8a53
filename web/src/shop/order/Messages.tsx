import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { home } from "../../shared/home";
import type { Start } from "../../shared/questions/files/sending";
import { TalkList } from "../../shared/talk/Talk";
import { useDraft } from "../../shared/talk/useDraft";
import { usePressed } from "../usePressed";
import type { About } from "./about";

// forMessage makes room for a file that goes with a message.
const forMessage: Start = (name, size) =>
  take(api.POST("/api/shop/uploads", { body: { name, size, question: "" } }));

type Props = {
  order: Schemas["OrderPage"];
  link: string;
  about?: About;
  drop: () => void;
};

// Messages is what the customer and the seller wrote to each other about the order.
export function Messages({ order, link, about, drop }: Props) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const box = useRef<HTMLElement>(null);
  const path = { path: { link } };
  const draft = useDraft(`ruvo.message.${link.slice(0, 6)}`, forMessage, async (m) => {
    const page = await take(
      api.POST("/api/shop/orders/{link}/talk", {
        params: path,
        body: { ...m, line: about?.line, key: about?.key },
      }),
    );
    queries.setQueryData(["order", link], page);
    drop();
  });
  const list = order.talk ?? [];
  const unread = list.some((m) => !m.customer && !m.read);
  const last = list.at(-1)?.id ?? 0;
  usePressed(unread || order.unproven ? `${last} ${order.unproven}` : "", () => {
    api.POST("/api/shop/orders/{link}/press", { params: { path: { link } } }).catch(() => {});
  });
  useEffect(() => {
    if (!about) return;
    box.current?.scrollIntoView({ block: "center" });
    box.current?.querySelector("textarea")?.focus();
  }, [about]);
  return (
    <section className="sheet stack messages" ref={box} id="messages" aria-label={t("Messages")}>
      <h2>{t("Messages")}</h2>
      {list.length === 0 && (
        <p className="small quiet">
          {t("Is something unclear? Write to {{business}} here.", { business: order.business })}
        </p>
      )}
      <TalkList
        list={list}
        customer
        zone={order.zone}
        today={order.today}
        draft={draft}
        about={about && { wording: about.wording, drop }}
        file={(message, place, as) => `${home}/api/shop/orders/${link}/talk/${message}/${place}?as=${as}`}
      />
    </section>
  );
}
