import { Button, InputNumber } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, money } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";
import { Rows } from "../Rows";

type Row = Schemas["TransferRow"];
type Outcome = Schemas["TransferOutcome"];

// useOutcomes names what became of a transfer, with a shape that tells it apart
// without colour.
export function useOutcomes(): Record<Outcome, { name: string; shape: string; kind: string }> {
  const { t } = useTranslation();
  return {
    booked: { name: t("booked"), shape: "●", kind: "good" },
    proposed: { name: t("is it this one?"), shape: "◐", kind: "attention" },
    unknown: { name: t("of no known order"), shape: "○", kind: "attention" },
    aside: { name: t("set aside"), shape: "□", kind: "plain" },
    known: { name: t("read before"), shape: "=", kind: "plain" },
    out: { name: t("went out"), shape: "↗", kind: "plain" },
    foreign: { name: t("in another currency"), shape: "≠", kind: "plain" },
    waits: { name: t("not looked at yet"), shape: "…", kind: "plain" },
  };
}

export function OutcomeMark({ outcome }: { outcome: Outcome }) {
  const o = useOutcomes()[outcome];
  return (
    <span className={`mark ${o.kind}`}>
      {o.shape} {o.name}
    </span>
  );
}

// TransferRows lists transfers with what became of each, and lets somebody decide
// on those of which it is not clear.
export function TransferRows({ rows, numbered }: { rows: Row[]; numbered?: boolean }) {
  const { t } = useTranslation();
  const { today } = useHere();
  return (
    <Rows
      rows={rows}
      by={(r) => r.id}
      pagination={false}
      columns={[
        ...(numbered
          ? [
              {
                title: t("Row"),
                className: "num",
                rowScope: "row" as const,
                render: (_: unknown, r: Row) => r.row,
              },
            ]
          : []),
        { title: t("Day"), className: "nowrap", render: (_, r) => day(r.day, today) },
        {
          title: t("Amount"),
          align: "right",
          className: "num nowrap",
          render: (_, r) => money(r.amount, r.currency),
        },
        {
          title: t("Who, and what they wrote"),
          render: (_, r) => (
            <>
              <div>{r.payer || <span className="quiet">{t("no name")}</span>}</div>
              <div className="small quiet transfer-text">
                {[r.text, r.reference].filter((x) => x !== "").join(" · ")}
              </div>
            </>
          ),
        },
        {
          title: t("What became of it"),
          render: (_, r) => <Became r={r} />,
        },
      ]}
    />
  );
}

function Became({ r }: { r: Row }) {
  const { t } = useTranslation();
  const decide = useChange({
    once: true,
    send: (body: Schemas["TransferDecision"]) =>
      take(api.POST("/api/desk/transfers/{id}", { params: { path: { id: r.id } }, body })),
    refreshes: ["transfers", "statement", "money", "orders", "docket", "today"],
  });
  const [number, setNumber] = useState<number | null>(null);
  const [asking, setAsking] = useState(false);
  const open = r.outcome === "proposed" || r.outcome === "unknown";
  return (
    <>
      <div className="row">
        <OutcomeMark outcome={r.outcome} />
        {r.order && (
          <Link to={`/orders/${r.order.line}`}>
            {t("order {{number}}, {{customer}}", { number: r.order.number, customer: r.order.customer })}
          </Link>
        )}
        {r.by && <span className="quiet small">{r.by}</span>}
      </div>
      {r.why && <div className="small">{r.why}</div>}
      {decide.of("order") ? (
        <div className="question-fault" role="alert">
          {decide.of("order")}
        </div>
      ) : (
        <Trouble error={decide.problem} />
      )}
      {open && (
        <div className="row transfer-acts">
          {r.proposed.map((p) => (
            <Button
              key={p.number}
              size="small"
              type="primary"
              loading={decide.busy}
              onClick={() => decide.send({ order: p.number })}
            >
              {t("Book on {{number}}, {{customer}}", { number: p.number, customer: p.customer })}
            </Button>
          ))}
          {asking ? (
            <>
              <InputNumber
                size="small"
                autoFocus
                controls={false}
                aria-label={t("Number of the order")}
                placeholder={t("number")}
                min={1}
                precision={0}
                value={number}
                onChange={(n) => {
                  decide.forget("order");
                  setNumber(n);
                }}
                onPressEnter={() => number && decide.send({ order: number })}
              />
              <Button
                size="small"
                disabled={!number}
                loading={decide.busy}
                onClick={() => number && decide.send({ order: number })}
              >
                {t("Book it")}
              </Button>
            </>
          ) : (
            <Button size="small" onClick={() => setAsking(true)}>
              {r.proposed.length > 0 ? t("another order …") : t("of order …")}
            </Button>
          )}
          <Button size="small" loading={decide.busy} onClick={() => decide.send({ aside: true })}>
            {t("of no order")}
          </Button>
        </div>
      )}
      {r.outcome === "aside" && (
        <Button size="small" type="link" loading={decide.busy} onClick={() => decide.send({ aside: false })}>
          {t("Take it back")}
        </Button>
      )}
    </>
  );
}
