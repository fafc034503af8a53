import { useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { home } from "../../shared/home";
import { Labelled } from "../../shared/Labelled";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useAddress } from "../../shared/useAddress";
import { Rows } from "../Rows";
import { Instant } from "./Instant";

const filters = ["topic", "text", "from", "to"] as const;

// useTopics gives what entries belong to, with their names.
function useTopics(): { value: Schemas["LogTopic"]; label: string }[] {
  const { t } = useTranslation();
  return [
    { value: "access", label: t("Signing in") },
    { value: "people", label: t("People and links") },
    { value: "settings", label: t("Settings") },
    { value: "prices", label: t("Prices and terms") },
    { value: "money", label: t("Money") },
    { value: "exports", label: t("Exports") },
  ];
}

// Log lists who did what, from where and when. What is chosen stands in the
// address, so that going back goes back.
export function Log() {
  const { t } = useTranslation();
  const topics = useTopics();
  const [params, change, setParams] = useAddress();
  const chosen = Object.fromEntries(
    filters.flatMap((f) => (params.get(f) ? [[f, params.get(f) ?? ""]] : [])),
  );
  const page = Math.max(Number(params.get("page")) || 1, 1);
  const query = { ...chosen, topic: chosen.topic as Schemas["LogTopic"] | undefined, page };
  const log = useQuery({
    queryKey: ["log", query],
    queryFn: () => take(api.GET("/api/desk/log", { params: { query } })),
    placeholderData: (old) => old,
  });
  const set = (key: string, value: string) => change({ [key]: value });
  const any = Object.keys(chosen).length > 0;
  const topicOf = (topic: string) => topics.find((x) => x.value === topic)?.label;
  return (
    <main className="desk-page">
      <div className="row">
        <h1 className="grow">{t("Log")}</h1>
        <a className="small" href={`${home}/api/desk/log.csv?${new URLSearchParams(chosen)}`} download>
          {t("Save these as CSV")}
        </a>
      </div>
      <div className="log-filters">
        <Labelled id="log-topic" wording={t("Topic")}>
          <Select
            id="log-topic"
            value={chosen.topic ?? ""}
            onChange={(v) => set("topic", v)}
            options={[{ value: "", label: t("everything") }, ...topics]}
          />
        </Labelled>
        <Labelled id="log-text" wording={t("Who, from where or about what")}>
          <Input
            id="log-text"
            key={chosen.text ?? ""}
            defaultValue={chosen.text}
            maxLength={200}
            allowClear
            onChange={(e) => e.target.value === "" && set("text", "")}
            onPressEnter={(e) => set("text", e.currentTarget.value)}
            onBlur={(e) => e.target.value !== (chosen.text ?? "") && set("text", e.target.value)}
          />
        </Labelled>
        <Labelled id="log-from" wording={t("From day")}>
          <Input
            id="log-from"
            type="date"
            value={chosen.from ?? ""}
            onChange={(e) => set("from", e.target.value)}
          />
        </Labelled>
        <Labelled id="log-to" wording={t("To day")}>
          <Input
            id="log-to"
            type="date"
            value={chosen.to ?? ""}
            onChange={(e) => set("to", e.target.value)}
          />
        </Labelled>
      </div>
      <Trouble error={lost(log)} again={() => log.refetch()} />
      {log.data?.total === 0 && (
        <div className="empty">
          {any ? t("Nothing fits these filters.") : t("What happens at the desk will be here.")}
          {any && (
            <div>
              <Button type="link" onClick={() => setParams({})}>
                {t("Show all")}
              </Button>
            </div>
          )}
        </div>
      )}
      {log.data && log.data.total > 0 && (
        <Rows
          rows={log.data.entries}
          by={(e) => e.id}
          pagination={{
            current: log.data.page,
            pageSize: log.data.size,
            total: log.data.total,
            hideOnSinglePage: true,
            showSizeChanger: false,
            onChange: (n) => set("page", n > 1 ? String(n) : ""),
          }}
          columns={[
            { title: t("When"), rowScope: "row", width: 110, render: (_, e) => <Instant at={e.at} /> },
            {
              title: t("Who"),
              width: "22%",
              render: (_, e) => e.who || <span className="quiet">{t("nobody signed in")}</span>,
            },
            {
              title: t("What"),
              className: "log-what",
              render: (_, e) => (
                <>
                  {e.what}
                  {e.about && <div className="small quiet">{e.about}</div>}
                </>
              ),
            },
            { title: t("From"), dataIndex: "address", className: "num", responsive: ["md"] },
            { title: t("Topic"), responsive: ["md"], render: (_, e) => topicOf(e.topic) },
          ]}
        />
      )}
    </main>
  );
}
