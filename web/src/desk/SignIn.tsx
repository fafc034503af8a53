import { useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, take } from "../shared/api/client";
import { Labelled } from "../shared/Labelled";
import { Trouble } from "../shared/Trouble";
import { useChange } from "../shared/useChange";
import "../shared/questions/questions.css";

export function SignIn() {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [who, setWho] = useState({ email: "", password: "" });
  const enter = useChange({
    send: () => take(api.POST("/api/desk/session", { body: who })),
    done: (session) => {
      queries.setQueryData(["session"], session);
      queries.invalidateQueries({ queryKey: ["session"] });
    },
  });
  return (
    <main className="sign-in">
      <form
        className="sheet"
        onSubmit={(e) => {
          e.preventDefault();
          enter.send();
        }}
      >
        <h1>{t("Your desk")}</h1>
        <Trouble error={enter.problem} />
        <Labelled id="email" wording={t("Mail address")}>
          <Input
            id="email"
            type="email"
            autoComplete="username"
            value={who.email}
            onChange={(e) => setWho({ ...who, email: e.target.value })}
          />
        </Labelled>
        <Labelled id="password" wording={t("Password")}>
          <Input
            id="password"
            type="password"
            autoComplete="current-password"
            value={who.password}
            onChange={(e) => setWho({ ...who, password: e.target.value })}
          />
        </Labelled>
        <Button type="primary" htmlType="submit" loading={enter.busy} block>
          {t("Sign in")}
        </Button>
      </form>
    </main>
  );
}
