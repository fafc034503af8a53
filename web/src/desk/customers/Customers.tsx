import { useQuery } from "@tanstack/react-query";
import { Button, Checkbox, Input, Modal } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, local, money } from "../../shared/format";
import { home } from "../../shared/home";
import { Labelled } from "../../shared/Labelled";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useAddress } from "../../shared/useAddress";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";
import { Rows } from "../Rows";
import { OrderTabs } from "../Tabs";

// of leads to the page of a person.
export const customerPage = (email: string) => `/orders/customers/of?email=${encodeURIComponent(email)}`;

// Customers lists those who ordered, and those who are noted.
export function Customers() {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const [params, set] = useAddress();
  const [importing, setImporting] = useState(false);
  const query = {
    text: params.get("text") || undefined,
    news: params.has("news") || undefined,
    sort: (params.get("sort") ?? undefined) as "name" | "orders" | "spent" | undefined,
    page: Number(params.get("page") ?? 1),
  };
  const list = useQuery({
    queryKey: ["customers", query],
    queryFn: () => take(api.GET("/api/desk/customers", { params: { query } })),
    placeholderData: (old) => old,
  });
  const rows = list.data?.rows ?? [];
  const order = (column: string) =>
    column === query.sort ? (column === "name" ? ("ascend" as const) : ("descend" as const)) : null;
  return (
    <main className="desk-page">
      <h1>{t("Orders")}</h1>
      <OrderTabs />
      <div className="row">
        <Input
          className="customer-search"
          aria-label={t("Name or mail address")}
          placeholder={t("Name or mail address")}
          defaultValue={query.text}
          allowClear
          onChange={(e) => e.target.value === "" && set({ text: undefined })}
          onPressEnter={(e) => set({ text: e.currentTarget.value })}
        />
        <Checkbox
          checked={query.news ?? false}
          onChange={(e) => set({ news: e.target.checked ? "yes" : undefined })}
        >
          {t("may be written news")}
        </Checkbox>
        <span className="grow" />
        <a href={`${home}/api/desk/news.csv`} download>
          {t("Save who may be written news")}
        </a>
        <a href={`${home}/api/desk/customers.csv`} download>
          {t("Save all as CSV")}
        </a>
        <Button onClick={() => setImporting(true)}>{t("Take in a table …")}</Button>
      </div>
      <Trouble error={lost(list)} again={() => list.refetch()} />
      {list.data && rows.length === 0 ? (
        <div className="empty">
          {query.text || query.news
            ? t("Nobody fits this.")
            : t("Customers will be here once somebody buys.")}
        </div>
      ) : (
        <Rows
          rows={rows}
          by={(r) => r.email}
          pagination={{
            current: query.page,
            pageSize: list.data?.page_size ?? 100,
            total: (query.page - 1) * (list.data?.page_size ?? 100) + rows.length + (list.data?.more ? 1 : 0),
            hideOnSinglePage: true,
            showSizeChanger: false,
            simple: true,
          }}
          onChange={(pages, _, sorter) => {
            const by = Array.isArray(sorter) ? undefined : sorter;
            const sort = by?.order ? String(by.columnKey) : undefined;
            set({
              sort,
              page: sort === query.sort && (pages.current ?? 1) > 1 ? String(pages.current) : undefined,
            });
          }}
          columns={[
            {
              key: "name",
              title: t("Customer"),
              rowScope: "row",
              sorter: true,
              sortOrder: order("name"),
              sortDirections: ["ascend"],
              render: (_, r) => (
                <>
                  <Link to={customerPage(r.email)}>{r.name || r.email}</Link>
                  <div className="small quiet">{r.email}</div>
                </>
              ),
            },
            {
              key: "orders",
              title: t("Orders"),
              className: "num",
              align: "right",
              sorter: true,
              sortOrder: order("orders"),
              sortDirections: ["descend"],
              render: (_, r) => r.orders || "–",
            },
            {
              key: "spent",
              title: t("Ordered for"),
              className: "num",
              align: "right",
              sorter: true,
              sortOrder: order("spent"),
              sortDirections: ["descend"],
              render: (_, r) => (r.spent ? money(r.spent, list.data?.currency ?? "") : "–"),
            },
            {
              key: "news",
              title: t("News since"),
              align: "right",
              render: (_, r) => (r.news ? day(local(r.news, session.zone).day, today) : "–"),
            },
            {
              key: "last",
              title: t("Last order"),
              align: "right",
              render: (_, r) => (r.last ? day(local(r.last, session.zone).day, today) : t("noted only")),
            },
          ]}
        />
      )}
      {importing && <Import close={() => setImporting(false)} />}
    </main>
  );
}

// Import takes in a table of people.
function Import({ close }: { close: () => void }) {
  const { t } = useTranslation();
  const [table, setTable] = useState("");
  const send = useChange({
    once: true,
    send: () => take(api.POST("/api/desk/customers/import", { body: { table } })),
    refreshes: ["customers"],
  });
  const got: Schemas["CustomersImported"] | undefined = send.done ? send.data : undefined;
  return (
    <Modal
      open
      title={t("Take in a table of people")}
      okText={got ? t("Done") : t("Take it in")}
      okButtonProps={{ loading: send.busy, disabled: table.trim() === "" }}
      cancelText={t("Leave it")}
      onOk={() => (got ? close() : send.send())}
      onCancel={close}
    >
      {got ? (
        <div className="stack" role="status">
          <div className="notice good">
            {t("{{count}} people are new", { count: got.added })},{" "}
            {t("{{count}} were known", { count: got.changed })}.
          </div>
          {got.wrong.length > 0 && (
            <div className="notice attention">
              {got.wrong.slice(0, 20).map((w) => (
                <div key={w.row}>{t("Row {{row}}: {{why}}", { row: w.row, why: w.message })}</div>
              ))}
            </div>
          )}
        </div>
      ) : (
        <>
          <p className="small quiet">
            {t(
              "A CSV file with a column “mail”; “name”, “note” and “news” where there are any, news with the day on which they agreed to it. Every further column becomes a fact that only you see.",
            )}
          </p>
          <input
            type="file"
            accept=".csv,text/csv"
            aria-label={t("Table of people")}
            onChange={async (e) => setTable((await e.target.files?.[0]?.text()) ?? "")}
          />
          <Labelled id="table" wording={t("Or put its text here")} fault={send.of("table")}>
            <Input.TextArea id="table" rows={6} value={table} onChange={(e) => setTable(e.target.value)} />
          </Labelled>
          {!send.of("table") && <Trouble error={send.problem} />}
        </>
      )}
    </Modal>
  );
}
