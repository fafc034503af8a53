import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Input, Select } from "antd";
import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { day, local } from "../../shared/format";
import { languages } from "../../shared/i18n";
import { Labelled } from "../../shared/Labelled";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { PromiseTerms } from "../bench/PromiseTerms";
import { useHere } from "../here";
import { DaysOff } from "../hours/DaysOff";
import { WeekHours } from "../hours/WeekHours";
import { Calendars } from "./Calendars";
import { Resources } from "./Resources";

type Set = Schemas["Settings"];
type View = Schemas["SettingsView"];

const queryKey = ["settings"];
const pause = 600; // milliseconds after the last touch until it is kept

// Settings is where the business is set: what customers read of it, when it is
// open, and what is closed. A change is kept as it is made, once it is known what
// it would close; the last one can be undone.
export function Settings() {
  const { t } = useTranslation();
  const settings = useQuery({
    queryKey,
    queryFn: () => take(api.GET("/api/desk/settings")),
    refetchOnWindowFocus: false,
  });
  if (lost(settings)) return <Trouble error={settings.error} again={() => settings.refetch()} />;
  return (
    <main className="desk-page settings">
      <h1>{t("Settings")}</h1>
      {settings.data && <Editor key={settings.dataUpdatedAt === 0 ? 0 : 1} view={settings.data} />}
    </main>
  );
}

// useKept keeps what is edited: at once when nothing that is booked or offered
// closes, else when the seller says so.
function useKeptSettings(view: View) {
  const queries = useQueryClient();
  const [v, setV] = useState(view.settings);
  const [impact, setImpact] = useState<Schemas["SettingsImpact"]>();
  const version = useRef(view.version);
  const kept = useRef(JSON.stringify(view.settings));
  const arrived = (next: View) => {
    version.current = next.version;
    kept.current = JSON.stringify(next.settings);
    queries.setQueryData(queryKey, next);
    setImpact(undefined);
  };
  const save = useChange({
    send: (settings: Set) =>
      take(api.PUT("/api/desk/settings", { body: { version: version.current, settings } })),
    refreshes: ["calendar", "today"],
    done: arrived,
  });
  const look = useChange({
    send: (settings: Set) => take(api.POST("/api/desk/settings/preview", { body: settings })),
    done: (found) => {
      if (found.closing > 0 || found.work > 0) setImpact(found);
      else save.send(latest.current);
    },
  });
  const undo = useChange({
    once: true,
    send: () => take(api.POST("/api/desk/settings/undo", { body: { version: version.current } })),
    refreshes: ["calendar", "today"],
    done: (next) => {
      arrived(next);
      setV(next.settings);
    },
  });
  const latest = useRef(v);
  latest.current = v;
  const text = JSON.stringify(v);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only what is edited begins it
  useEffect(() => {
    setImpact(undefined);
    if (text === kept.current) return;
    const timer = setTimeout(() => look.send(latest.current), pause);
    return () => clearTimeout(timer);
  }, [text]);
  const set = (part: Partial<Set>) => {
    look.forget();
    save.forget();
    setV((old) => ({ ...old, ...part }));
  };
  const problem = save.problem ?? look.problem ?? undo.problem;
  return {
    v,
    set,
    impact,
    problem,
    of: (key: string) => (problem instanceof Problem ? problem.of(key) : undefined),
    busy: save.busy || look.busy || undo.busy,
    dirty: text !== kept.current,
    doIt: () => save.send(v),
    leaveIt: () => setV(JSON.parse(kept.current) as Set),
    undo: () => undo.send(),
  };
}

function Editor({ view: start }: { view: View }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const k = useKeptSettings(start);
  const view = useQueryClient().getQueryData<View>(queryKey) ?? start;
  const { v, set, of } = k;
  const text = (key: "name" | "tagline" | "contact", wording: string, help?: string) => (
    <Labelled id={key} wording={wording} help={help} fault={of(key)}>
      <Input
        id={key}
        value={v[key]}
        status={of(key) ? "error" : undefined}
        onChange={(e) => set({ [key]: e.target.value })}
      />
    </Labelled>
  );
  return (
    <div className="stack">
      <div className="row settings-state" role="status">
        <span className="grow quiet small">
          {k.busy
            ? t("keeping …")
            : k.impact
              ? t("not kept yet")
              : k.problem
                ? t("not kept")
                : view.changed_at
                  ? t("kept; last changed by {{by}}, {{day}}", {
                      by: view.changed_by,
                      day: day(local(view.changed_at, session.zone).day, today),
                    })
                  : t("kept")}
        </span>
        <Button size="small" disabled={!view.changed_at || k.busy} onClick={k.undo}>
          {t("Undo the last change")}
        </Button>
      </div>
      <Trouble error={k.problem} />
      {k.impact && <Impact impact={k.impact} doIt={k.doIt} leaveIt={k.leaveIt} />}
      <section className="sheet">
        <h2>{t("What customers read")}</h2>
        <div className="pair">
          {text("name", t("Name"))}
          {text("tagline", t("In one sentence"), t("Above the shop; without one, the name stands there."))}
          {text(
            "contact",
            t("Mail address"),
            t("Stands at the foot of the shop; without one, nothing does."),
          )}
          <Labelled id="postal" wording={t("Address")} fault={of("postal")}>
            <Input.TextArea
              id="postal"
              rows={3}
              value={v.postal}
              maxLength={500}
              onChange={(e) => set({ postal: e.target.value })}
            />
          </Labelled>
        </div>
      </section>
      <section className="sheet">
        <h2>{t("Where and when it is")}</h2>
        <div className="pair">
          <Labelled
            id="zone"
            wording={t("Time zone")}
            help={t("All hours and bookings are in it.")}
            fault={of("zone")}
          >
            <Select
              id="zone"
              showSearch
              value={v.zone}
              onChange={(zone) => set({ zone })}
              options={zones(v.zone).map((z) => ({ value: z, label: z }))}
            />
          </Labelled>
          <Labelled
            id="language"
            wording={t("Language")}
            help={t("Of mails to those whose language is not known.")}
          >
            <Select
              id="language"
              value={v.language}
              onChange={(language) => set({ language })}
              options={Object.entries(languages).map(([value, label]) => ({ value, label }))}
            />
          </Labelled>
          <Labelled
            id="country"
            wording={t("Country")}
            help={t("Its public holidays are days off.")}
            fault={of("country")}
          >
            <Select
              id="country"
              value={v.country}
              onChange={(country) => set({ country, region: "", open: [] })}
              options={[
                { value: "", label: t("no holidays") },
                ...view.countries.map((c) => ({ value: c, label: countryName(c) })),
              ]}
            />
          </Labelled>
          {view.regions.length > 0 && (
            <Labelled
              id="region"
              wording={t("Region")}
              help={t("Without one, only holidays of the whole country.")}
              fault={of("region")}
            >
              <Select
                id="region"
                value={v.region}
                onChange={(region) => set({ region })}
                options={[
                  { value: "", label: t("the whole country") },
                  ...view.regions.map((r) => ({ value: r.code, label: r.name })),
                ]}
              />
            </Labelled>
          )}
        </div>
      </section>
      <section className="sheet">
        <h2>{t("Working hours")}</h2>
        <p className="quiet small">
          {t("Work is due in them. Products that can be booked have hours of their own.")}
        </p>
        <WeekHours id="week" week={v.week} change={(week) => set({ week })} />
        {[0, 1, 2, 3, 4, 5, 6].map(
          (d) =>
            of(`week[${d}]`) && (
              <div key={d} className="question-fault" role="alert">
                {of(`week[${d}]`)}
              </div>
            ),
        )}
      </section>
      <section className="sheet">
        <h2>{t("People, rooms and things")}</h2>
        <p className="quiet small">{t("What bookings take, across all products: never twice at once.")}</p>
        <Resources
          list={v.resources}
          next={view.next_resource}
          week={v.week}
          set={(resources) => set({ resources })}
          of={of}
        />
      </section>
      <section className="sheet">
        <h2>{t("Promises")}</h2>
        <p className="quiet small">
          {t(
            "Orders are promised for the day on which their work will be done, placed after all that waits.",
          )}
        </p>
        <PromiseTerms terms={v.work} set={(work) => set({ work })} />
        {of("work") && (
          <div className="question-fault" role="alert">
            {of("work")}
          </div>
        )}
      </section>
      <section className="sheet">
        <h2>{t("Calendars")}</h2>
        <Calendars resources={view.settings.resources} />
      </section>
      <section className="sheet">
        <h2>{t("Days off")}</h2>
        <p className="quiet small">
          {t("Nothing is due and nothing can be booked on them, unless a product says otherwise.")}
        </p>
        <DaysOff closures={v.closures} change={(closures) => set({ closures })} />
        {v.closures.map(
          (c, i) =>
            of(`closures[${i}].to`) && (
              <div key={`${c.from}${c.to}`} className="question-fault" role="alert">
                {of(`closures[${i}].to`)}
              </div>
            ),
        )}
        {view.holidays.length > 0 && (
          <>
            <h3>{t("Public holidays of the coming year")}</h3>
            <p className="quiet small">{t("Those that are ticked are days off.")}</p>
            <ul className="plain-list holidays">
              {view.holidays.map((h) => (
                <li key={`${h.day}${h.name}`}>
                  <Checkbox
                    checked={!v.open.includes(h.name)}
                    onChange={(e) =>
                      set({
                        open: e.target.checked ? v.open.filter((n) => n !== h.name) : [...v.open, h.name],
                      })
                    }
                  >
                    {h.name}
                  </Checkbox>
                  <span className="quiet small">{day(h.day, today)}</span>
                </li>
              ))}
            </ul>
          </>
        )}
      </section>
    </div>
  );
}

// Impact says what a change would close, before it does.
function Impact({
  impact,
  doIt,
  leaveIt,
}: {
  impact: Schemas["SettingsImpact"];
  doIt: () => void;
  leaveIt: () => void;
}) {
  const { t } = useTranslation();
  const { today } = useHere();
  return (
    <div className="notice attention stack" role="alert">
      <div>
        {impact.closing > 0 && t("{{count}} openings would close.", { count: impact.closing })}{" "}
        {impact.bookings.length > 0 &&
          t("{{count}} bookings stand in them:", { count: impact.bookings.length })}
      </div>
      {impact.work > 0 && (
        <div>{t("{{count}} work items would be due at another time.", { count: impact.work })}</div>
      )}
      {impact.bookings.length > 0 && (
        <ul className="small">
          {impact.bookings.map((b) => (
            <li key={b.line}>
              {day(b.day, today)} {b.time} · {b.product} · <Link to={`/orders/${b.line}`}>{b.customer}</Link>
            </li>
          ))}
        </ul>
      )}
      <div className="row">
        <Button type="primary" onClick={doIt}>
          {t("Do it")}
        </Button>
        <Button onClick={leaveIt}>{t("Leave it as it was")}</Button>
        {impact.bookings.length > 0 && (
          <span className="small quiet">{t("Bookings stay until you move or cancel them.")}</span>
        )}
      </div>
    </div>
  );
}

const zones = (own: string) => {
  const all = Intl.supportedValuesOf("timeZone");
  return all.includes(own) ? all : [own, ...all];
};

const countryName = (code: string) =>
  new Intl.DisplayNames([document.documentElement.lang || "en"], { type: "region" }).of(code) ?? code;
