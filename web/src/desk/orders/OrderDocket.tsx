import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Dropdown } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { Docket, Fact, Gauge } from "../../shared/docket/Docket";
import { SoldVouchers } from "../../shared/docket/SoldVouchers";
import { away, day, local, money } from "../../shared/format";
import { lost } from "../../shared/lost";
import { pointAt } from "../../shared/point";
import { Slip } from "../../shared/slip/Slip";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useMarked } from "../../shared/useMarked";
import { MoveDialog } from "../calendar/MoveDialog";
import { customerPage } from "../customers/Customers";
import { Given } from "../handover/Given";
import { useHere } from "../here";
import { NewItem } from "../work/NewItem";
import { useLoad } from "../work/Work";
import { WorkRow } from "../work/WorkRow";
import { Amended } from "./Amended";
import { Answer } from "./Answer";
import { Documents } from "./Documents";
import { Evidence } from "./Evidence";
import { Fill } from "./Fill";
import { Happened } from "./Happened";
import { Ledger } from "./Ledger";
import { Messages } from "./Messages";
import { OrderMoney, PaidMark } from "./OrderMoney";
import { BriefMark } from "./Orders";
import { Parts } from "./Parts";
import { Promised } from "./Promised";
import { Things } from "./Things";

type Action = "close" | "reopen" | "remind" | "remind_text" | "relink" | "end_links";

export function OrderDocket({ line }: { line: number }) {
  const { t } = useTranslation();
  const { today, session } = useHere();
  const queries = useQueryClient();
  const { root, marked } = useMarked<HTMLDListElement>();
  const docket = useQuery({
    queryKey: ["docket", line],
    queryFn: () => take(api.GET("/api/desk/dockets/{line}", { params: { path: { line } } })),
  });
  const act = useChange({
    send: (action: Action) =>
      take(api.POST("/api/desk/dockets/{line}/{action}", { params: { path: { line, action } } })),
    refreshes: ["orders"],
    done: (d) => queries.setQueryData(["docket", line], d),
  });
  const load = useLoad();
  const here = docket.data !== undefined;
  useEffect(() => {
    if (!here) return;
    api
      .POST("/api/desk/dockets/{line}/seen", { params: { path: { line } } })
      .then(() => queries.invalidateQueries({ queryKey: ["session"] }))
      .catch(() => {});
  }, [here, line, queries]);
  if (lost(docket)) return <Trouble error={docket.error} again={() => docket.refetch()} />;
  const d = docket.data;
  if (!d) return null;
  const unplaced = d.money.state === "awaiting" || d.money.state === "lapsed";
  const others = d.siblings.filter((s) => s.line !== d.parent?.line);
  return (
    <Docket stub={<Stub d={d} />} label={t("Docket {{number}}", { number: d.number })}>
      <div className="row">
        <h2>{d.quantity > 1 ? `${d.quantity} × ${d.title}` : d.title}</h2>
        {d.money.state === "cancelled" ? (
          <span className="mark plain">■ {t("cancelled")}</span>
        ) : unplaced ? (
          <span className={d.money.state === "lapsed" ? "mark plain" : "mark attention"}>
            {d.money.state === "lapsed" ? `□ ${t("given free")}` : `◔ ${t("waits for its transfer")}`}
          </span>
        ) : (
          <BriefMark brief={d.brief} />
        )}
        {d.parent && (
          <span className="quiet small">
            {t("goes with")} <Link to={`/orders/${d.parent.line}`}>{d.parent.title}</Link>
          </span>
        )}
        <span className="grow" />
        {!unplaced && <Acts d={d} act={act.send} busy={act.busy} />}
      </div>
      <div className="quiet small">
        <Link to={customerPage(d.email)}>{d.customer}</Link> · <a href={`mailto:${d.email}`}>{d.email}</a> ·{" "}
        {t("edition {{n}}", { n: d.edition })}
        {others.map((s) => (
          <span key={s.line}>
            {" · "}
            {t("with")} <Link to={`/orders/${s.line}`}>{s.title}</Link>
          </span>
        ))}
        {d.reminded &&
          ` · ${t("reminded {{when}}", { when: away(local(d.reminded, session.zone).day, today) })}`}
        {d.links === 0 && ` · ${t("no private link leads to it any more")}`}
      </div>
      <Trouble error={act.problem} />
      <Parts d={d} />
      <div className="docket-columns">
        <div>
          <div id="docket-brief">
            <Brief d={d} root={root} />
          </div>
          <h3 id="docket-work">{t("Work")}</h3>
          {d.work.length === 0 && (
            <div className="empty">
              {unplaced ? t("Work begins once the order is placed.") : t("This product makes no work.")}
            </div>
          )}
          {d.work.map((w) => (
            <WorkRow key={w.id} item={w} today={today} bare people={load.data?.people} />
          ))}
          {!unplaced && d.cancelled === undefined && (
            <NewItem people={load.data?.people ?? []} today={today} line={d.line} />
          )}
          {!unplaced && <Given d={d} />}
          <Messages d={d} />
          {d.money.ledger.length > 0 && (
            <section id="docket-money" aria-labelledby="docket-money-head">
              <h3 id="docket-money-head">{t("Money")}</h3>
              <Ledger entries={d.money.ledger} currency={d.currency} />
            </section>
          )}
          <Documents d={d} />
          <Happened d={d} />
        </div>
        <div className="stack">
          <Slip
            slip={d.slip}
            title={t("Slip")}
            marked={marked}
            wording={(row) => d.page.questions.find((q) => q.key === row.question)?.wording}
            go={(row) => row.question && pointAt(row.question)}
          />
          {d.vouchers && (
            <SoldVouchers vouchers={d.vouchers} currency={d.currency} today={today}>
              <Link to="/money/vouchers">{t("All vouchers")}</Link>
            </SoldVouchers>
          )}
          <OrderMoney d={d} />
        </div>
      </div>
    </Docket>
  );
}

type Docketed = { d: Schemas["Docket"] };

// Stub says on the docket's stub what one looks for first.
function Stub({ d }: Docketed) {
  const { t } = useTranslation();
  const { today, session } = useHere();
  const [bookedDay, bookedTime] = d.booked?.split("T") ?? [];
  return (
    <>
      <Fact name={t("Order")}>
        <div className="docket-number num">{d.number}</div>
      </Fact>
      {bookedDay && (
        <Fact name={t("Booked")}>
          <strong className="num">
            {day(bookedDay, today)}, {bookedTime}
          </strong>
          <div className="small quiet">{away(bookedDay, today)}</div>
          {d.meetings ? <BookedCourse list={d.meetings} /> : d.booking && <Booked b={d.booking} />}
        </Fact>
      )}
      <Fact name={t("Promised")}>
        <Promised d={d} />
      </Fact>
      {d.handed && (
        <Fact name={t("Handed over")}>
          <strong>{day(local(d.handed, session.zone).day, today)}</strong>
        </Fact>
      )}
      <Fact name={t("Brief")}>
        <Gauge
          have={d.answered}
          of={d.total}
          words={t("{{have}} of {{of}} answered", { have: d.answered, of: d.total })}
        />
      </Fact>
      <Fact name={t("Price")}>
        <span className="num">{money(d.price, d.currency)}</span>
        <PaidMark m={d.money} currency={d.currency} />
      </Fact>
      {d.recipient && (
        <Fact name={t("For")}>
          <strong>{d.recipient.name}</strong>
          <div className="small quiet">
            {d.recipient.told
              ? t("told on {{day}}", { day: day(local(d.recipient.told, session.zone).day, today) })
              : d.recipient.tells
                ? t("told on {{day}}", { day: day(local(d.recipient.tells, session.zone).day, today) })
                : t("gets the link from the buyer")}
          </div>
          {d.recipient.email && <div className="small quiet">{d.recipient.email}</div>}
        </Fact>
      )}
      <Fact name={t("Ordered")}>{day(local(d.placed, session.zone).day, today)}</Fact>
    </>
  );
}

// Acts has what can be done with the brief and the private link.
function Acts({ d, act, busy }: Docketed & { act: (a: Action) => void; busy: boolean }) {
  const { t } = useTranslation();
  const nothing = d.answers.every((a) => !a.missing);
  return (
    <Dropdown
      trigger={["click"]}
      menu={{
        items: [
          d.brief === "closed"
            ? { key: "reopen", label: t("Open the brief again") }
            : { key: "close", label: t("Close the brief") },
          {
            key: "remind",
            label: t("Remind of what is missing"),
            disabled: nothing,
          },
          {
            key: "remind_text",
            label: t("Remind by text message"),
            disabled: !d.phone || nothing,
          },
          { key: "relink", label: t("Send a new link and end the old ones") },
          { key: "end_links", label: t("End the private links"), danger: true },
        ],
        onClick: ({ key }) => act(key as Action),
      }}
    >
      <Button loading={busy}>{t("More")}</Button>
    </Dropdown>
  );
}

// Brief shows all that was answered, with what supports it.
function Brief({ d, root }: Docketed & { root: React.Ref<HTMLDListElement> }) {
  const { t } = useTranslation();
  return (
    <>
      <h3>{t("Brief")}</h3>
      <dl className="brief" ref={root}>
        {d.answers.map((a) => (
          <div key={a.key} data-answer={a.key} data-question={a.key}>
            <dt>{a.wording}</dt>
            <dd>
              <Answer a={a} />
              <Evidence line={d.line} a={a} />
              {a.kind !== "booking" && d.money.state === "placed" && (
                <>
                  {" "}
                  <Fill docket={d} at={a.key} />
                </>
              )}
              {d.amendments
                ?.filter((x) => x.key === a.key && x.state === "asked")
                .map((x) => (
                  <Amended key={x.id} d={d} a={x} />
                ))}
            </dd>
          </div>
        ))}
      </dl>
      {d.money.state === "placed" && d.cancelled === undefined && <Things d={d} />}
    </>
  );
}

// BookedCourse lists the meetings that are booked of a course, each of which can be
// moved.
function BookedCourse({ list }: { list: Schemas["BookingRow"][] }) {
  const { t } = useTranslation();
  const { today } = useHere();
  const [moving, move] = useState<Schemas["BookingRow"]>();
  const first = list[0];
  return (
    <>
      {first && first.with.length > 0 && (
        <div className="small">{first.with.map((r) => r.name).join(", ")}</div>
      )}
      <ol className="booked-meetings small num" start={first?.meeting}>
        {list.map((b) => (
          <li key={b.start}>
            <button type="button" className="linkish small" onClick={() => move(b)}>
              {day(b.day, today)}, {b.time}
              <span className="sr"> {t("Move …")}</span>
            </button>
            {b.no_show && <div className="mark bad">{t("nobody came")}</div>}
          </li>
        ))}
      </ol>
      {moving && (
        <MoveDialog
          key={moving.start}
          booking={moving}
          to={{ day: moving.day, meeting: moving.meeting }}
          close={() => move(undefined)}
        />
      )}
    </>
  );
}

// Booked says what the booking takes, and moves it.
function Booked({ b }: { b: Schemas["BookingRow"] }) {
  const { t } = useTranslation();
  const { today } = useHere();
  const [moving, move] = useState(false);
  return (
    <>
      {b.stay && <div className="small">{t("until {{day}}", { day: day(b.last, today) })}</div>}
      {b.with.length > 0 && <div className="small">{b.with.map((r) => r.name).join(", ")}</div>}
      {b.no_show && <div className="mark bad">{t("nobody came")}</div>}
      <button type="button" className="linkish small" onClick={() => move(true)}>
        {t("Move …")}
      </button>
      {moving && <MoveDialog booking={b} to={{ day: b.day, meeting: b.meeting }} close={() => move(false)} />}
    </>
  );
}
