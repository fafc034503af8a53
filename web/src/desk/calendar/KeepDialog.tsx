import { Input, Modal, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, Problem, take } from "../../shared/api/client";
import { day as dayName } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { WholeBox } from "../../shared/questions/boxes";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import type { Spot, View } from "./times";

type Props = { spot: Spot; products: Map<number, string>; view: View; close: () => void };

// KeepDialog keeps a time free by hand, of a product or of a person, a room or a thing,
// and says which bookings stand in it.
export function KeepDialog({ spot, products, view, close }: Props) {
  const { t } = useTranslation();
  const first = products.keys().next().value;
  const [what, setWhat] = useState(
    spot.resource !== undefined
      ? `r${spot.resource}`
      : spot.product !== undefined
        ? `p${spot.product}`
        : view.resources[0]
          ? `r${view.resources[0].id}`
          : first !== undefined
            ? `p${first}`
            : "",
  );
  const [at, setAt] = useState({
    day: spot.day,
    time: spot.time,
    last: spot.last ?? spot.day,
    ends: spot.ends,
  });
  const [people, setPeople] = useState<number>();
  const [reason, setReason] = useState("");
  const product = what.startsWith("p");
  const keep = useChange({
    once: true,
    send: () =>
      take(
        api.POST("/api/desk/kept", {
          body: {
            ...at,
            ends: at.ends === "00:00" ? "24:00" : at.ends,
            reason: reason || undefined,
            ...(product ? { product: Number(what.slice(1)), people } : { resource: Number(what.slice(1)) }),
          },
        }),
      ),
    waits: ["calendar"],
    refreshes: ["days"],
    done: (made) => made.bookings.length === 0 && close(),
  });
  const made = keep.data;
  // What can be booked at that time, for whoever calls.
  const openings =
    view.days
      .find((d) => d.day === spot.day)
      ?.openings.filter(
        (o) => o.left > 0 && o.time <= spot.time && (o.ends > spot.time || o.ends === "00:00"),
      ) ?? [];
  const fault = (key: string) => (keep.problem instanceof Problem ? keep.problem.of(key) : undefined);
  const when = (name: keyof typeof at, wording: string, type: "date" | "time") => (
    <Labelled id={`keep-${name}`} wording={wording} fault={fault(name)}>
      <input
        id={`keep-${name}`}
        type={type}
        className="plain-field"
        value={at[name]}
        onChange={(e) =>
          e.target.value &&
          setAt({
            ...at,
            [name]: e.target.value,
            // The last day goes along with the first.
            ...(name === "day" && at.last < e.target.value && { last: e.target.value }),
          })
        }
      />
    </Labelled>
  );
  return (
    <Modal
      open
      title={`${dayName(spot.day, view.today)}, ${spot.time}`}
      okText={made ? t("Close") : t("Keep it free")}
      okButtonProps={{ loading: keep.busy, disabled: what === "" }}
      cancelText={t("Cancel")}
      cancelButtonProps={{ hidden: made !== undefined }}
      onOk={() => (made ? close() : keep.send())}
      onCancel={close}
    >
      {made ? (
        <div className="notice attention">
          {t("It is kept. What is booked in it stays until you move or cancel it:")}
          <ul className="small">
            {made.bookings.map((b) => (
              <li key={`${b.line}${b.start}`}>
                {dayName(b.day, view.today)} {!b.stay && b.time} ·{" "}
                <Link to={`/orders/${b.line}`}>{b.customer}</Link>
              </li>
            ))}
          </ul>
        </div>
      ) : (
        <>
          {openings.length > 0 && (
            <div className="keep-orders">
              <strong>{t("An order for somebody")}</strong>
              {openings.map((o) => (
                <Link
                  key={`${o.product_id}${o.start}`}
                  to={`/orders/new?product=${o.product_id}&start=${o.start}&end=${o.end}`}
                >
                  {o.product}, {o.time}–{o.ends}
                </Link>
              ))}
            </div>
          )}
          <Labelled id="keep-what" wording={t("Keep free")} fault={fault("product") ?? fault("resource")}>
            <Select
              id="keep-what"
              value={what || undefined}
              onChange={setWhat}
              options={[
                ...view.resources.map((r) => ({ value: `r${r.id}`, label: r.name })),
                ...[...products].map(([id, label]) => ({ value: `p${id}`, label })),
              ]}
            />
          </Labelled>
          <div className="pair">
            {when("day", t("From day"), "date")}
            {when("time", t("at"), "time")}
            {when("last", t("Until day"), "date")}
            {when("ends", t("at"), "time")}
          </div>
          {product && (
            <Labelled
              id="keep-people"
              wording={t("Places")}
              help={t("Without a number, all of them.")}
              fault={fault("people")}
            >
              <WholeBox id="keep-people" value={people} onChange={setPeople} />
            </Labelled>
          )}
          <Labelled id="keep-reason" wording={t("Reason")} fault={fault("reason")}>
            <Input
              id="keep-reason"
              maxLength={200}
              value={reason}
              placeholder={t("for you alone")}
              onChange={(e) => setReason(e.target.value)}
            />
          </Labelled>
          {keep.problem !== undefined &&
            !(keep.problem instanceof Problem && keep.problem.errors.length > 0) && (
              <Trouble error={keep.problem} />
            )}
        </>
      )}
    </Modal>
  );
}
