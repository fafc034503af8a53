import { useQuery } from "@tanstack/react-query";
import { useTranslation } from "react-i18next";
import { Link, useNavigate } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { Drop } from "../../shared/Drop";
import { away, day, local, money } from "../../shared/format";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useHere } from "../here";
import { Rows } from "../Rows";
import { MoneyTabs } from "../Tabs";
import { TransferRows, useOutcomes } from "./TransferRows";
import { useReading } from "./useReading";

// Transfers shows which orders await their transfers, reads bank statements, and
// has somebody decide on the transfers of which it is not clear.
export function Transfers() {
  const { t } = useTranslation();
  const view = useQuery({
    queryKey: ["transfers"],
    queryFn: () => take(api.GET("/api/desk/transfers")),
  });
  const v = view.data;
  return (
    <main className="desk-page">
      <h1>{t("Money")}</h1>
      <MoneyTabs />
      <Trouble error={lost(view)} again={() => view.refetch()} />
      {v && (
        <>
          {!v.account && (
            <div className="notice attention">
              {t("Nobody can transfer anything until there is a bank account.")}{" "}
              <Link to="/money/terms">{t("Give one in the terms")}</Link>
            </div>
          )}
          <Read />
          {v.open.length > 0 && (
            <section>
              <h2>
                {t("To decide on")} <span className="quiet num">{v.open_count}</span>
              </h2>
              <TransferRows rows={v.open} />
            </section>
          )}
          <section>
            <h2>
              {t("Orders that wait for their transfer")}{" "}
              <span className="quiet num">{v.awaiting.length}</span>
            </h2>
            <Awaiting rows={v.awaiting} />
          </section>
          <section>
            <h2>{t("Statements that were read")}</h2>
            <Statements rows={v.statements} />
          </section>
        </>
      )}
    </main>
  );
}

// Read takes a statement: dropped on it, or chosen.
function Read() {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const { session } = useHere();
  const read = useReading((s) => navigate(`/money/transfers/${s.id}`));
  const fault = read.of("statement");
  return (
    <section className="statement-drop">
      <Drop
        wording={t("Bank statement")}
        types={[".xml", ".csv", ".txt", "text/csv", "application/xml", "text/xml"]}
        most={1}
        add={(list) => list?.[0] && read.send(list[0])}
        button={t("Read a bank statement …")}
        busy={read.busy}
      >
        {t("camt.053 or CSV, as your bank gives it; or drop it here. Read twice, nothing is booked twice.")}{" "}
        {session.simulated_bank && (
          <a href={session.simulated_bank}>{t("Make a statement up at the simulated bank")}</a>
        )}
      </Drop>
      {fault ? (
        <div className="notice bad" role="alert">
          {t("Nothing was read:")} {fault}
        </div>
      ) : (
        <Trouble error={read.problem} />
      )}
    </section>
  );
}

function Awaiting({ rows }: { rows: Schemas["AwaitingOrder"][] }) {
  const { t } = useTranslation();
  const { today, session } = useHere();
  if (rows.length === 0) return <div className="empty">{t("No order waits for a transfer.")}</div>;
  return (
    <Rows
      rows={rows}
      by={(r) => r.number}
      columns={[
        {
          title: t("Order"),
          rowScope: "row",
          className: "num",
          sorter: (a, b) => a.number - b.number,
          render: (_, r) => <Link to={`/orders/${r.line}`}>{r.number}</Link>,
        },
        {
          title: t("Customer"),
          sorter: (a, b) => a.customer.localeCompare(b.customer),
          render: (_, r) => (
            <>
              <div>{r.customer}</div>
              <div className="small quiet">{r.products.join(", ")}</div>
            </>
          ),
        },
        {
          title: t("Still to come in"),
          align: "right",
          className: "num nowrap",
          sorter: (a, b) => a.missing - b.missing,
          render: (_, r) => (
            <>
              {money(r.missing, r.currency)}
              {r.came > 0 && (
                <div className="small">{t("{{amount}} came in", { amount: money(r.came, r.currency) })}</div>
              )}
            </>
          ),
        },
        {
          title: t("Held until"),
          sorter: (a, b) => a.until.localeCompare(b.until),
          render: (_, r) => {
            const until = local(r.until, session.zone).day;
            return (
              <>
                {day(until, today)} <span className="small quiet">{away(until, today)}</span>
                {r.reminded && <div className="small quiet">{t("was reminded")}</div>}
                {r.over && <div className="mark bad">▲ {t("time is over, and part of it came in")}</div>}
              </>
            );
          },
        },
      ]}
    />
  );
}

function Statements({ rows }: { rows: Schemas["StatementView"][] }) {
  const { t } = useTranslation();
  const { today, session } = useHere();
  const outcomes = useOutcomes();
  if (rows.length === 0) return <div className="empty">{t("Statements that you read will be here.")}</div>;
  return (
    <Rows
      rows={rows}
      by={(s) => s.id}
      columns={[
        {
          title: t("File"),
          rowScope: "row",
          render: (_, s) => <Link to={`/money/transfers/${s.id}`}>{s.name}</Link>,
        },
        {
          title: t("Days"),
          className: "nowrap",
          render: (_, s) =>
            s.first === s.last ? day(s.first, today) : `${day(s.first, today)} – ${day(s.last, today)}`,
        },
        {
          title: t("Rows"),
          render: (_, s) => s.counts.map((c) => `${c.count} ${outcomes[c.outcome].name}`).join(", "),
        },
        {
          title: t("Read"),
          render: (_, s) => (
            <>
              {day(local(s.at, session.zone).day, today)} <span className="quiet small">{s.by}</span>
            </>
          ),
        },
      ]}
    />
  );
}
