import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Popconfirm } from "antd";
import { useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { Labelled } from "../../shared/Labelled";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { Rows } from "../Rows";
import { ProductTabs } from "../Tabs";

const queryKey = ["groups"];
const listOf = (text: string) => text.split(/[\s,;]+/).filter((x) => x !== "");

// Groups lists the customer groups: who belongs to them, and how people come
// in: by the sign-up link, by the seller's hand, or by their mail domain.
export function Groups() {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const groups = useQuery({ queryKey, queryFn: () => take(api.GET("/api/desk/groups")) });
  const arrived = (rows: Schemas["CustomerGroup"][]) => queries.setQueryData(queryKey, rows);
  const add = useChange({
    once: true,
    send: () => take(api.POST("/api/desk/groups", { body: { name, domains: [] } })),
    done: (rows) => {
      arrived(rows);
      setName("");
    },
  });
  if (lost(groups)) return <Trouble error={groups.error} again={() => groups.refetch()} />;
  return (
    <main className="desk-page">
      <h1>{t("Customer groups")}</h1>
      <ProductTabs />
      <form
        className="row"
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim() !== "") add.send();
        }}
      >
        <Input
          className="add-from"
          aria-label={t("Name of a new group")}
          placeholder={t("Name of a new group")}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Button type="primary" htmlType="submit" loading={add.busy} disabled={name.trim() === ""}>
          {t("Add")}
          <span className="sr"> {t("Name of a new group")}</span>
        </Button>
      </form>
      <Trouble error={add.problem} />
      {groups.data?.length === 0 && (
        <div className="empty">
          {t("Groups have prices, questions and products of their own: members, schools, the trade.")}
        </div>
      )}
      {groups.data?.map((g) => (
        <Group key={g.id} g={g} arrived={arrived} />
      ))}
    </main>
  );
}

// Invitation shows a sign-up link right after it was made, since only its hash is
// kept, and makes a new one.
function Invitation({ g, arrived }: GroupProps) {
  const { t } = useTranslation();
  // It stays to be copied also when something else is changed meanwhile.
  const made = useRef(g.invite);
  if (g.invite) made.current = g.invite;
  const invite = useChange({
    once: true,
    send: () => take(api.POST("/api/desk/groups/{id}/invite", { params: { path: { id: g.id } } })),
    done: arrived,
  });
  return (
    <div className="invitation">
      {made.current && (
        <div className="notice good" role="status">
          <div>
            {t("Sign-up link:")} <code className="invite">{made.current}</code>
          </div>
          <div className="small">{t("Copy it now: it cannot be shown again.")}</div>
        </div>
      )}
      <Trouble error={invite.problem} />
      {!made.current && (
        <Popconfirm
          title={t("Make a new sign-up link for “{{name}}”?", { name: g.name })}
          description={t("The one before lets nobody in then. Members stay members.")}
          okText={t("Make a new one")}
          cancelText={t("Leave it as it was")}
          onConfirm={() => invite.send()}
        >
          <Button size="small" loading={invite.busy}>
            {t("New sign-up link")}
            <span className="sr"> {g.name}</span>
          </Button>
        </Popconfirm>
      )}
    </div>
  );
}

type GroupProps = { g: Schemas["CustomerGroup"]; arrived: (rows: Schemas["CustomerGroup"][]) => void };

function Group({ g, arrived }: GroupProps) {
  const { t } = useTranslation();
  const [name, setName] = useState(g.name);
  const [domains, setDomains] = useState(g.domains.join(", "));
  const [emails, setEmails] = useState("");
  const path = { params: { path: { id: g.id } } };
  const put = useChange({
    send: () => take(api.PUT("/api/desk/groups/{id}", { ...path, body: { name, domains: listOf(domains) } })),
    done: arrived,
  });
  const drop = useChange({
    send: () => take(api.DELETE("/api/desk/groups/{id}", path)),
    done: arrived,
  });
  const join = useChange({
    send: () =>
      take(api.POST("/api/desk/groups/{id}/members", { ...path, body: { emails: listOf(emails) } })),
    done: (rows) => {
      arrived(rows);
      setEmails("");
    },
  });
  const leave = useChange({
    send: (email: string) =>
      take(api.DELETE("/api/desk/groups/{id}/members", { ...path, body: { emails: [email] } })),
    done: arrived,
  });
  const dirty = name !== g.name || listOf(domains).join() !== g.domains.join();
  return (
    <section className="sheet" aria-label={g.name}>
      <div className="row">
        <h2 className="grow">{g.name}</h2>
        <Popconfirm
          title={t("Take the group “{{name}}” away?", { name: g.name })}
          description={t("Its prices hold for nobody then. Orders that were made keep theirs.")}
          okText={t("Take away")}
          cancelText={t("Leave it as it was")}
          onConfirm={() => drop.send()}
        >
          <Button size="small" danger>
            {t("Take away")}
            <span className="sr"> {g.name}</span>
          </Button>
        </Popconfirm>
      </div>
      <Trouble error={drop.problem ?? leave.problem} />
      <div className="pair">
        <Labelled id={`name-${g.id}`} wording={t("Name")} fault={put.of("name")}>
          <Input id={`name-${g.id}`} value={name} onChange={(e) => setName(e.target.value)} />
        </Labelled>
        <Labelled
          id={`domains-${g.id}`}
          wording={t("Mail domains that belong to it")}
          fault={put.of("domains")}
        >
          <Input
            id={`domains-${g.id}`}
            placeholder="school.example.org"
            value={domains}
            onChange={(e) => setDomains(e.target.value)}
          />
        </Labelled>
      </div>
      {dirty && (
        <Button type="primary" loading={put.busy} onClick={() => put.send()}>
          {t("Keep it")}
        </Button>
      )}
      <Invitation g={g} arrived={arrived} />
      <h3>{t("{{count}} members", { count: g.members.length })}</h3>
      {g.members.length > 0 && (
        <Rows
          rows={g.members}
          by={(m) => m.email}
          columns={[
            {
              title: t("Mail address"),
              rowScope: "row",
              dataIndex: "email",
              sorter: (a, b) => a.email.localeCompare(b.email),
            },
            {
              title: t("How they joined"),
              filters: [
                { text: t("by the sign-up link"), value: "link" },
                { text: t("by hand"), value: "hand" },
              ],
              onFilter: (how, m) => (m.joined === "link") === (how === "link"),
              render: (_, m) => (m.joined === "link" ? t("by the sign-up link") : t("by hand")),
            },
            {
              title: <span className="sr">{t("Take away")}</span>,
              align: "right",
              render: (_, m) => (
                <Button
                  size="small"
                  aria-label={t("Take {{what}} away", { what: m.email })}
                  onClick={() => leave.send(m.email)}
                >
                  ×
                </Button>
              ),
            },
          ]}
        />
      )}
      <form
        className="row"
        onSubmit={(e) => {
          e.preventDefault();
          if (emails.trim() !== "") join.send();
        }}
      >
        <Input
          className="add-from"
          aria-label={t("Mail addresses for {{group}}", { group: g.name })}
          placeholder={t("mail addresses")}
          value={emails}
          status={join.problem === undefined ? undefined : "error"}
          onChange={(e) => setEmails(e.target.value)}
        />
        <Button htmlType="submit" loading={join.busy} disabled={emails.trim() === ""}>
          {t("Add them")}
          <span className="sr"> {g.name}</span>
        </Button>
        {join.of("emails") && (
          <span className="question-fault" role="alert">
            {join.of("emails")}
          </span>
        )}
      </form>
    </section>
  );
}
