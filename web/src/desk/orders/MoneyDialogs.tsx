import { useQuery } from "@tanstack/react-query";
import { Checkbox, Input, Modal, Radio, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { digits } from "../../shared/currency";
import { money } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { CreditTable } from "../../shared/money/CreditTable";
import { MoneyBox } from "../../shared/questions/boxes";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";

type Move = Schemas["MoneyMove"];
type Docket = Schemas["Docket"];
type Props = { d: Docket; close: () => void };

// useMove moves an order's money and shows the desk what that made of it.
export function useMove(
  d: Docket,
  action: "cancel" | "release" | "return" | "receive" | "free" | "accept",
  close: () => void,
) {
  return useChange({
    once: true,
    send: (body: Move) =>
      take(
        api.POST("/api/desk/orders/{number}/{action}", {
          params: { path: { number: d.number, action } },
          body,
        }),
      ),
    refreshes: ["docket", "orders", "money", "stock", "today", "work"],
    done: close,
  });
}

// usePreview reckons what a move would come to, while it is decided on.
function usePreview(d: Docket, action: "cancel" | "return", body: Move | undefined) {
  return useQuery({
    queryKey: ["money-preview", d.number, action, body],
    enabled: body !== undefined,
    retry: false,
    gcTime: 0,
    placeholderData: (old) => old,
    queryFn: () =>
      take(
        api.POST("/api/desk/orders/{number}/{action}/preview", {
          params: { path: { number: d.number, action } },
          body: body ?? {},
        }),
      ),
  });
}

export function useWays() {
  const { t } = useTranslation();
  return { transfer: t("by bank transfer"), cash: t("in cash"), hand: t("otherwise") };
}

// useWayNames names all ways in which money came in or went back.
export function useWayNames(): Record<string, string> {
  const { t } = useTranslation();
  return { card: t("by card"), voucher: t("by voucher"), ...useWays() };
}

type Moved = { way: NonNullable<Move["way"]>; day: string; note: string };

type HowProps = {
  how: Moved;
  set: (how: Moved) => void;
  // what goes back by card, at most; undefined where no card is asked
  card?: string;
  of: (key: string) => string | undefined;
  why: string;
};

// How asks how the money moves, on which day, and why.
function How({ how, set, card, of, why }: HowProps) {
  const { t } = useTranslation();
  const ways = useWays();
  return (
    <>
      <div className="pair">
        <Labelled id="money-way" wording={t("How")} fault={of("way")}>
          <Select
            id="money-way"
            value={how.way}
            onChange={(way) => set({ ...how, way })}
            options={[
              ...(card ? [{ value: "card" as const, label: card }] : []),
              ...Object.entries(ways).map(([value, label]) => ({ value: value as Moved["way"], label })),
            ]}
          />
        </Labelled>
        {how.way !== "card" && (
          <Labelled id="money-day" wording={t("On which day")} fault={of("day")}>
            <Input
              id="money-day"
              type="date"
              value={how.day}
              onChange={(e) => set({ ...how, day: e.target.value })}
            />
          </Labelled>
        )}
      </div>
      <Labelled id="money-note" wording={why} fault={of("note")}>
        <Input id="money-note" value={how.note} onChange={(e) => set({ ...how, note: e.target.value })} />
      </Labelled>
    </>
  );
}

const said = (how: Moved): Move => ({
  way: how.way,
  day: how.way === "card" ? undefined : how.day,
  note: how.note || undefined,
});

// Receive notes that money came in by other means than a card.
export function Receive({ d, close }: Props) {
  const { t } = useTranslation();
  const { today } = useHere();
  const open = d.money.state === "awaiting" ? d.money.awaited : d.money.open;
  const [amount, setAmount] = useState<number | undefined>(open || undefined);
  const [how, setHow] = useState<Moved>({ way: "transfer", day: today, note: "" });
  const move = useMove(d, "receive", close);
  const more = (amount ?? 0) - open;
  return (
    <Modal
      open
      title={t("Money came in for order {{number}} of {{customer}}", {
        number: d.number,
        customer: d.customer,
      })}
      okText={t("Note it")}
      okButtonProps={{ loading: move.busy, disabled: amount === undefined }}
      cancelText={t("Leave it")}
      onOk={() => move.send({ ...said(how), amount })}
      onCancel={close}
    >
      <Trouble error={move.problem} />
      <Labelled id="money-amount" wording={t("How much came in?")} fault={move.of("amount")}>
        <MoneyBox
          id="money-amount"
          digits={digits(d.currency)}
          prefix={d.currency}
          value={amount}
          onChange={setAmount}
        />
      </Labelled>
      <How how={how} set={setHow} of={move.of} why={t("Note")} />
      {more !== 0 && amount !== undefined && (
        <p className="quiet" role="status">
          {more > 0
            ? t("{{amount}} more than is open: it will stand as paid too much, to be given back.", {
                amount: money(more, d.currency),
              })
            : t("{{amount}} stay open.", { amount: money(-more, d.currency) })}
        </p>
      )}
    </Modal>
  );
}

// Lines ticks lines of the order.
function Lines({ d, chosen, choose }: { d: Docket; chosen: number[]; choose: (ids: number[]) => void }) {
  const { t } = useTranslation();
  const all = [{ line: d.line, title: d.title, cancelled: d.cancelled }, ...d.siblings].filter(
    (l) => !l.cancelled,
  );
  if (all.length < 2) return null;
  return (
    <fieldset className="money-lines">
      <legend>{t("Which lines?")}</legend>
      {all.map((l) => (
        <Checkbox
          key={l.line}
          checked={chosen.includes(l.line)}
          onChange={(e) =>
            choose(e.target.checked ? [...chosen, l.line] : chosen.filter((id) => id !== l.line))
          }
        >
          {l.title}
        </Checkbox>
      ))}
    </fieldset>
  );
}

const alive = (d: Docket) =>
  [{ line: d.line, cancelled: d.cancelled }, ...d.siblings].filter((l) => !l.cancelled).map((l) => l.line);

type What = "over" | "amount" | "lines";

// GiveBack gives back what was paid too much, an amount, or lines.
export function GiveBack({ d, close }: Props) {
  const { t } = useTranslation();
  const { today } = useHere();
  const m = d.money;
  const [what, setWhat] = useState<What>(m.overpaid > 0 ? "over" : "amount");
  const [amount, setAmount] = useState<number | undefined>(undefined);
  const [lines, setLines] = useState<number[]>([d.line]);
  const [how, setHow] = useState<Moved>({ way: m.by_card > 0 ? "card" : "transfer", day: today, note: "" });
  const move = useMove(d, "return", close);
  const body: Move | undefined =
    what === "over"
      ? {}
      : what === "lines"
        ? lines.length > 0
          ? { lines }
          : undefined
        : amount
          ? { amount }
          : undefined;
  const preview = usePreview(d, "return", what === "over" ? undefined : body);
  const of = (key: string) =>
    move.of(key) ?? (preview.error instanceof Problem ? preview.error.of(key) : undefined);
  return (
    <Modal
      open
      title={t("Give money back of order {{number}} of {{customer}}", {
        number: d.number,
        customer: d.customer,
      })}
      okText={how.way === "card" ? t("Give it back") : t("It was given back")}
      okButtonProps={{ loading: move.busy, disabled: body === undefined }}
      cancelText={t("Leave it")}
      onOk={() => body && move.send({ ...body, ...said(how) })}
      onCancel={close}
    >
      <Trouble error={move.problem} />
      <Radio.Group
        className="money-what"
        value={what}
        onChange={(e) => {
          move.forget();
          setWhat(e.target.value);
        }}
      >
        {m.overpaid > 0 && (
          <Radio value="over">
            {t("what was paid too much: {{amount}}", { amount: money(m.overpaid, d.currency) })}
          </Radio>
        )}
        <Radio value="amount">{t("an amount")}</Radio>
        <Radio value="lines">{t("what these lines cost")}</Radio>
      </Radio.Group>
      {what === "amount" && (
        <Labelled
          id="money-amount"
          wording={t("How much?")}
          help={t("It is no longer charged then. At most {{most}}, what was paid.", {
            most: money(m.kept, d.currency),
          })}
          fault={of("amount")}
        >
          <MoneyBox
            id="money-amount"
            digits={digits(d.currency)}
            prefix={d.currency}
            value={amount}
            onChange={(n) => {
              move.forget("amount");
              setAmount(n);
            }}
          />
        </Labelled>
      )}
      {what === "lines" && <Lines d={d} chosen={lines} choose={setLines} />}
      {what === "lines" && of("amount") && <div className="fault">{of("amount")}</div>}
      {what !== "over" && body && preview.data && !preview.error && (
        <CreditTable preview={preview.data} currency={d.currency} />
      )}
      {what !== "over" && body && !preview.data && !of("amount") && <Trouble error={preview.error} />}
      <How
        how={how}
        set={setHow}
        of={of}
        why={what === "over" ? t("Note") : t("Why? It stands in the ledger.")}
        card={
          m.by_card > 0
            ? t("to the card, up to {{amount}}", { amount: money(m.by_card, d.currency) })
            : undefined
        }
      />
    </Modal>
  );
}

// Release gives back a deposit that did not come in by card.
export function Release({ d, close }: Props) {
  const { t } = useTranslation();
  const { today } = useHere();
  const [how, setHow] = useState<Moved>({ way: "transfer", day: today, note: "" });
  const move = useMove(d, "release", close);
  return (
    <Modal
      open
      title={t("Give the deposit of order {{number}} of {{customer}} back", {
        number: d.number,
        customer: d.customer,
      })}
      okText={t("It was given back")}
      okButtonProps={{ loading: move.busy }}
      cancelText={t("Leave it")}
      onOk={() => move.send(said(how))}
      onCancel={close}
    >
      <Trouble error={move.problem} />
      <p>{money(d.money.held, d.currency)}</p>
      <How how={how} set={setHow} of={move.of} why={t("Note")} />
    </Modal>
  );
}

// CancelOrder cancels the order or lines of it.
export function CancelOrder({ d, close }: Props) {
  const { t } = useTranslation();
  const [lines, setLines] = useState<number[]>(alive(d));
  const [how, setHow] = useState<NonNullable<Move["how"]>>("rule");
  const [amount, setAmount] = useState<number | undefined>(undefined);
  const [restock, setRestock] = useState(true);
  const [note, setNote] = useState("");
  const move = useMove(d, "cancel", close);
  const whole = lines.length === alive(d).length;
  const body: Move | undefined =
    lines.length === 0 || (how === "amount" && !amount)
      ? undefined
      : { how, restock, lines: whole ? undefined : lines, amount: how === "amount" ? amount : undefined };
  const preview = usePreview(d, "cancel", body);
  const of = (key: string) =>
    move.of(key) ?? (preview.error instanceof Problem ? preview.error.of(key) : undefined);
  return (
    <Modal
      open
      title={t("Cancel order {{number}} of {{customer}}?", { number: d.number, customer: d.customer })}
      okText={whole ? t("Cancel the order") : t("Cancel these lines")}
      okButtonProps={{ danger: true, loading: move.busy, disabled: body === undefined }}
      cancelText={t("Leave it as it was")}
      onOk={() => body && move.send({ ...body, note: note || undefined })}
      onCancel={close}
    >
      <Trouble error={move.problem} />
      <p>
        {t(
          "Unfinished work is taken away, booked places are given free, and briefs are closed. The customer gets a mail. This cannot be undone.",
        )}
      </p>
      <Lines d={d} chosen={lines} choose={setLines} />
      <Radio.Group className="money-what" value={how} onChange={(e) => setHow(e.target.value)}>
        <Radio value="rule">{t("as the rules say")}</Radio>
        <Radio value="all">{t("all of it comes back")}</Radio>
        <Radio value="keep">{t("what was paid stays, and nothing more is asked for")}</Radio>
        <Radio value="amount">{t("an amount is no longer charged")}</Radio>
      </Radio.Group>
      {how === "amount" && (
        <Labelled id="money-amount" wording={t("How much?")} fault={of("amount")}>
          <MoneyBox
            id="money-amount"
            digits={digits(d.currency)}
            prefix={d.currency}
            value={amount}
            onChange={setAmount}
          />
        </Labelled>
      )}
      {body && preview.data && <CreditTable preview={preview.data} currency={d.currency} cancelling />}
      {body && !preview.data && !of("amount") && <Trouble error={preview.error} />}
      <p>
        <Checkbox checked={restock} onChange={(e) => setRestock(e.target.checked)}>
          {t("put what was counted back on stock")}
        </Checkbox>
      </p>
      <Labelled id="money-note" wording={t("Note")} fault={move.of("note")}>
        <Input id="money-note" value={note} onChange={(e) => setNote(e.target.value)} />
      </Labelled>
    </Modal>
  );
}
