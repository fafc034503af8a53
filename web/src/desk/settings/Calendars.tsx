import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { day, local } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";

const queryKey = ["feeds"];

// Calendars has private addresses at which calendar programs read what is booked or
// due, and reads calendars that are kept elsewhere as closed times.
export function Calendars({ resources }: { resources: Schemas["Resource"][] }) {
  const feeds = useQuery({ queryKey, queryFn: () => take(api.GET("/api/desk/feeds")) });
  if (lost(feeds)) return <Trouble error={feeds.error} again={() => feeds.refetch()} />;
  if (!feeds.data) return null;
  return (
    <>
      <Feeds feeds={feeds.data.feeds} resources={resources} />
      {resources.length > 0 && <Closed closed={feeds.data.closed} resources={resources} />}
    </>
  );
}

function Feeds({ feeds, resources }: { feeds: Schemas["FeedRow"][]; resources: Schemas["Resource"][] }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const queries = useQueryClient();
  const [shows, setShows] = useState("all");
  const add = useChange({
    once: true,
    send: (what: string) =>
      take(
        api.POST("/api/desk/feeds", {
          body:
            what === "all" || what === "work"
              ? { shows: what }
              : { shows: "resource", resource: Number(what) },
        }),
      ),
    done: (made) => queries.setQueryData(queryKey, made.view),
  });
  const end = useChange({
    send: (id: number) => take(api.DELETE("/api/desk/feeds/{id}", { params: { path: { id } } })),
    done: (view) => queries.setQueryData(queryKey, view),
  });
  const names: Record<string, string> = {
    all: t("everything that is booked"),
    work: t("work that is due"),
    resource: "",
  };
  return (
    <>
      <p className="quiet small">
        {t(
          "A calendar program reads at a private address what is booked, or due. Whoever has it can read it.",
        )}
      </p>
      <ul className="plain-list feeds">
        {feeds.map((f) => (
          <li key={f.id} className="row">
            <span className="grow">{f.resource?.name ?? names[f.shows]}</span>
            <span className="quiet small">
              {t("made by {{by}}, {{day}}", { by: f.by, day: day(local(f.made, session.zone).day, today) })}
            </span>
            <Button size="small" danger onClick={() => end.send(f.id)}>
              {t("End it")}
            </Button>
          </li>
        ))}
      </ul>
      {add.data && (
        <div className="notice good" role="status">
          {t("Copy this address now; it is not shown again.")}
          <Input
            readOnly
            aria-label={t("Private address")}
            value={add.data.address}
            onFocus={(e) => e.target.select()}
          />
        </div>
      )}
      <Trouble error={add.problem ?? end.problem} />
      <div className="row">
        <Select
          aria-label={t("What it shows")}
          value={shows}
          onChange={setShows}
          options={[
            { value: "all", label: names.all },
            ...resources.map((r) => ({ value: String(r.id), label: r.name })),
            { value: "work", label: names.work },
          ]}
        />
        <Button loading={add.busy} onClick={() => add.send(shows)}>
          {t("Make an address")}
        </Button>
      </div>
    </>
  );
}

function Closed({ closed, resources }: { closed: Schemas["ClosedRow"][]; resources: Schemas["Resource"][] }) {
  const { t } = useTranslation();
  const { today } = useHere();
  const queries = useQueryClient();
  const file = useRef<HTMLInputElement>(null);
  const [resource, setResource] = useState(resources[0]?.id ?? 0);
  const read = useChange({
    send: (c: { id: number; source: string; text: string }) =>
      take(
        api.PUT("/api/desk/resources/{id}/closed", {
          params: { path: { id: c.id } },
          body: { source: c.source, text: c.text },
        }),
      ),
    refreshes: ["calendar"],
    done: (view) => queries.setQueryData(queryKey, view),
  });
  const wrong =
    read.problem instanceof Problem ? (read.problem.of("text") ?? read.problem.of("source")) : undefined;
  return (
    <>
      <h3>{t("Kept elsewhere")}</h3>
      <p className="quiet small">
        {t("A calendar of somebody’s own (.ics) closes its times here. Read it again when it has changed.")}
      </p>
      <ul className="plain-list feeds">
        {closed.map((c) => (
          <li key={`${c.resource.id}${c.source}`} className="row">
            <span className="grow">
              {c.resource.name}: {c.source}
            </span>
            <span className="quiet small">
              {t("{{count}} times, until {{day}}", { count: c.times, day: day(c.until, today) })}
            </span>
            <Button
              size="small"
              danger
              onClick={() => read.send({ id: c.resource.id, source: c.source, text: "" })}
            >
              {t("Take it away")}
            </Button>
          </li>
        ))}
      </ul>
      <Labelled id="closed-of" wording={t("Whose times")} fault={wrong}>
        <div className="row">
          <Select
            id="closed-of"
            value={resource}
            onChange={setResource}
            options={resources.map((r) => ({ value: r.id, label: r.name }))}
          />
          <input
            ref={file}
            type="file"
            accept=".ics,text/calendar"
            aria-label={t("Read a calendar (.ics)")}
            onChange={async (e) => {
              const chosen = e.target.files?.[0];
              if (!chosen) return;
              await read.send({ id: resource, source: chosen.name.slice(0, 60), text: await chosen.text() });
              if (file.current) file.current.value = "";
            }}
          />
        </div>
      </Labelled>
      {wrong === undefined && <Trouble error={read.problem} />}
    </>
  );
}
