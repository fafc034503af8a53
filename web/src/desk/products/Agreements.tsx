import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, local } from "../../shared/format";
import { Html } from "../../shared/Html";
import { Labelled } from "../../shared/Labelled";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";

type Agreement = Schemas["Agreement"];

const queryKey = ["agreements"];

// Agreements are the texts that customers agree to with an order. Another text is the
// next version; orders keep theirs. Changed tells that customers see another one now.
export function Agreements({ changed }: { changed: () => void }) {
  const texts = useQuery({ queryKey, queryFn: () => take(api.GET("/api/desk/agreements")) });
  if (lost(texts)) return <Trouble error={texts.error} again={() => texts.refetch()} />;
  return (texts.data ?? []).map((a) => <One key={a.kind} a={a} changed={changed} />);
}

function One({ a, changed }: { a: Agreement; changed: () => void }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const queries = useQueryClient();
  const [text, setText] = useState<string>();
  const now = a.versions[0];
  const add = useChange({
    once: true,
    send: () =>
      take(
        api.POST("/api/desk/agreements", {
          body: { kind: a.kind, after: now?.version ?? 0, text: text ?? "" },
        }),
      ),
    done: (all) => {
      queries.setQueryData(queryKey, all);
      setText(undefined);
      changed();
    },
    refused: () => queries.invalidateQueries({ queryKey }),
  });
  const when = (at: string) => day(local(at, session.zone).day, today);
  const id = `agreement-${a.kind}`;
  return (
    <section className="sheet stack agreement" aria-labelledby={`${id}-head`}>
      <div className="row">
        <h2 className="grow" id={`${id}-head`}>
          {a.kind === "terms" ? t("Terms of sale") : t("News by mail")}
        </h2>
        {now?.text && (
          <span className="small quiet">
            {t("version {{version}}, since {{day}}", { version: now.version, day: when(now.since) })}
          </span>
        )}
      </div>
      <p className="small quiet">
        {a.kind === "terms"
          ? t(
              "Every order is placed under them. The version that the customer could read is kept with the order and sent with its mail.",
            )
          : t("Customers can tick it at the checkout. It is never ticked for them, and they can stop it.")}
      </p>
      {text === undefined ? (
        <>
          {now?.text ? (
            <details>
              <summary>{t("Read it")}</summary>
              <Html html={now.html} />
            </details>
          ) : (
            <div className="empty">{t("There is none, so nothing is asked.")}</div>
          )}
          <div>
            <Button onClick={() => setText(now?.text ?? "")}>
              {now?.text ? t("Change the text") : t("Write a text")}
            </Button>
          </div>
        </>
      ) : (
        <form
          className="stack"
          noValidate
          onSubmit={(e) => {
            e.preventDefault();
            add.send();
          }}
        >
          <Labelled
            id={id}
            wording={t("Text")}
            help={t("Markdown. Without a text nothing is asked any more.")}
            fault={add.of("text")}
          >
            <Input.TextArea
              id={id}
              value={text}
              status={add.of("text") ? "error" : undefined}
              onChange={(e) => setText(e.target.value)}
            />
          </Labelled>
          {!add.of("text") && <Trouble error={add.problem} />}
          <div className="row">
            <Button
              type="primary"
              htmlType="submit"
              loading={add.busy}
              disabled={text.trim() === (now?.text ?? "")}
            >
              {text.trim() === "" && now?.text
                ? t("Ask it no longer")
                : t("Put it up as version {{version}}", { version: (now?.version ?? 0) + 1 })}
            </Button>
            <Button
              onClick={() => {
                add.forget();
                setText(undefined);
              }}
            >
              {t("Leave it as it was")}
            </Button>
          </div>
        </form>
      )}
      {a.versions.length > 1 && (
        <details>
          <summary>{t("All versions")}</summary>
          <ul className="plain-list versions">
            {a.versions.map((v) => (
              <li key={v.version}>
                <details>
                  <summary>
                    {v.text ? t("Version {{version}}", { version: v.version }) : t("no text")}{" "}
                    <span className="small quiet">
                      {when(v.since)}, {v.by} · {t("{{count}} orders", { count: v.orders })}
                    </span>
                  </summary>
                  {v.text && <Html html={v.html} />}
                </details>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}
