import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams, useSearchParams } from "react-router";
import { api, take } from "../shared/api/client";
import { Labelled } from "../shared/Labelled";
import { Trouble } from "../shared/Trouble";
import { useChange } from "../shared/useChange";

// usePass tells whose pass the browser has.
export function usePass() {
  return useQuery({ queryKey: ["pass"], queryFn: () => take(api.GET("/api/shop/pass")), staleTime: 60_000 });
}

// useAfresh asks for everything again, also for what is under way: it was asked
// for somebody who saw other prices.
function useAfresh() {
  const queries = useQueryClient();
  return async () => {
    await queries.cancelQueries();
    await queries.invalidateQueries();
  };
}

// Join asks for the mail address that the prices of a group are for: of the
// group that invites, or of the one that the address belongs to.
export function Join() {
  const { t } = useTranslation();
  const { invite } = useParams();
  const afresh = useAfresh();
  const pass = usePass();
  const leave = useChange({
    send: () => take(api.DELETE("/api/shop/pass")),
    done: afresh,
  });
  return (
    <div className="narrow stack">
      <h1>{t("Prices for groups")}</h1>
      {pass.data?.email && (
        <div className="notice row">
          <span className="grow">
            {pass.data.group
              ? t("{{email}} sees the prices of “{{group}}” here.", {
                  email: pass.data.email,
                  group: pass.data.group,
                })
              : t("{{email}} belongs to no group any more.", { email: pass.data.email })}
          </span>
          <Button size="small" loading={leave.busy} onClick={() => leave.send()}>
            {t("Leave them")}
          </Button>
        </div>
      )}
      <AskLink
        invite={invite}
        sent={t(
          "If this address belongs to a group, a mail with a link is on its way. Open it in this browser.",
        )}
      >
        {invite
          ? t("You are invited. Give your mail address; the link in the mail opens the prices of your group.")
          : t(
              "Some groups have prices of their own. Give your mail address; if it belongs to one, the link in the mail opens its prices.",
            )}
      </AskLink>
    </div>
  );
}

// OpenPass signs in by the link of a mail, once somebody presses: mail programs open
// links too.
export function OpenPass() {
  const { t } = useTranslation();
  const { token = "" } = useParams();
  const [params] = useSearchParams();
  const afresh = useAfresh();
  const open = useChange({
    once: true,
    send: () =>
      take(api.POST("/api/shop/pass/open", { body: { token, invite: params.get("invite") ?? undefined } })),
    done: () => {
      // The link works once; what is shown at a reload is what it opened.
      window.history.replaceState(null, "", "/mine");
      return afresh();
    },
  });
  return (
    <div className="narrow stack">
      <h1>{t("Sign in")}</h1>
      <Trouble error={open.problem} />
      {open.data ? (
        <>
          <div className="notice good" role="status">
            {open.data.group
              ? t("You see the prices of “{{group}}” now.", { group: open.data.group })
              : t("You are signed in as {{email}}.", { email: open.data.email })}
          </div>
          <Link to="/mine">{t("Your orders")}</Link>
          <Link to="/">{t("See what we offer")}</Link>
        </>
      ) : (
        <div>
          <Button type="primary" size="large" loading={open.busy} onClick={() => open.send()}>
            {t("Sign in here")}
          </Button>
        </div>
      )}
    </div>
  );
}

// SignIn asks for the mail address to which a link is sent that signs in.
export function SignIn() {
  const { t } = useTranslation();
  return (
    <AskLink
      sent={t(
        "If something was ordered with this address, a mail with a link is on its way. Open it in this browser.",
      )}
    >
      {t(
        "Give the mail address that you ordered with. The link in the mail signs you in, without a password.",
      )}
    </AskLink>
  );
}

type AskProps = { invite?: string; sent: string; children: string };

// AskLink asks for a mail address, and has a link sent there. What it says afterwards is
// the same whatever the address.
function AskLink({ invite, sent, children }: AskProps) {
  const { t } = useTranslation();
  const [email, setEmail] = useState("");
  const ask = useChange({
    once: true,
    send: () => take(api.POST("/api/shop/pass", { body: { email, invite } })),
  });
  const fault = ask.of("email");
  if (ask.done)
    return (
      <div className="notice good" role="status">
        {sent}
      </div>
    );
  return (
    <form
      className="stack"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        ask.send();
      }}
    >
      <p>{children}</p>
      {!fault && <Trouble error={ask.problem} />}
      <Labelled id="email" wording={t("Mail address")} fault={fault}>
        <Input
          id="email"
          type="email"
          autoComplete="email"
          value={email}
          onChange={(e) => setEmail(e.target.value)}
        />
      </Labelled>
      <div>
        <Button type="primary" htmlType="submit" loading={ask.busy}>
          {t("Send me the link")}
        </Button>
      </div>
    </form>
  );
}
