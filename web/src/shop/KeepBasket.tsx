import { useQuery } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useTranslation } from "react-i18next";
import { useNavigate, useParams } from "react-router";
import { api, take } from "../shared/api/client";
import { Labelled } from "../shared/Labelled";
import { lost } from "../shared/lost";
import { Trouble } from "../shared/Trouble";
import { useChange } from "../shared/useChange";
import { useKept } from "../shared/useKept";
import { type Person, personKey, useBasket } from "./keep";

// KeepBasket mails a link to the basket, for another day or another device.
export function KeepBasket() {
  const { t } = useTranslation();
  const [basket] = useBasket();
  const [person, setPerson] = useKept<Person>(personKey, { name: "", email: "" });
  const keep = useChange({
    once: true,
    send: () => take(api.POST("/api/shop/baskets", { body: { email: person.email, entries: basket } })),
  });
  return (
    <details className="small">
      <summary className="linkish">{t("Keep it for later")}</summary>
      {keep.done ? (
        <p className="notice good" role="status">
          {t("A mail with the link to this basket is on its way.")}
        </p>
      ) : (
        <form
          className="stack"
          noValidate
          onSubmit={(e) => {
            e.preventDefault();
            keep.send();
          }}
        >
          <Labelled id="keep-email" wording={t("Mail address")} fault={keep.of("email")}>
            <Input
              id="keep-email"
              type="email"
              autoComplete="email"
              value={person.email}
              onChange={(e) => {
                keep.forget("email");
                setPerson({ ...person, email: e.target.value });
              }}
            />
          </Labelled>
          <Button htmlType="submit" loading={keep.busy}>
            {t("Mail me the link")}
          </Button>
          {!keep.of("email") && <Trouble error={keep.problem} />}
        </form>
      )}
    </details>
  );
}

// BringBack shows what a mailed link to a basket brings, and puts it to what is there.
export function BringBack() {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const { secret = "" } = useParams();
  const [basket, setBasket] = useBasket();
  const kept = useQuery({
    queryKey: ["kept-basket", secret],
    queryFn: () => take(api.GET("/api/shop/baskets/{secret}", { params: { path: { secret } } })),
    retry: false,
  });
  if (lost(kept)) return <Trouble error={kept.error} />;
  if (!kept.data) return null;
  const { entries } = kept.data;
  const fresh = entries.filter((e) => !basket.some((x) => x.id === e.id));
  return (
    <div className="narrow stack">
      <h1>{t("Your kept basket")}</h1>
      <p>
        {fresh.length === 0
          ? t("All of it is in your basket.")
          : t("{{count}} lines come into your basket; what is there stays.", { count: fresh.length })}
      </p>
      <div className="row">
        <Button
          type="primary"
          size="large"
          onClick={() => {
            setBasket((old) => [...old, ...fresh]);
            navigate("/basket");
          }}
        >
          {fresh.length === 0 ? t("To the basket") : t("Bring it back")}
        </Button>
      </div>
    </div>
  );
}
