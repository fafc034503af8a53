import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { day, local, plain } from "../../shared/format";
import { useHere } from "../here";

type Entry = Schemas["LedgerEntry"];

// useDueWords says when a sum is due.
export function useDueWords() {
  const { t } = useTranslation();
  const { today } = useHere();
  return (due: string) => {
    switch (due) {
      case "":
        return t("due now");
      case "begin":
        return t("due before work begins");
      case "handover":
        return t("due at handover");
      case "booking":
        return t("due before the booking");
      default:
        return t("due {{day}}", { day: day(due, today) });
    }
  };
}

// useEntryWords says what an entry of the ledger is, and why it is there.
export function useEntryWords() {
  const { t } = useTranslation();
  const dueWords = useDueWords();
  const kinds: Record<Entry["kind"], string> = {
    charged: t("charged"),
    paid: t("paid"),
    held: t("held as security"),
    released: t("security given back"),
    returned: t("given back"),
    waived: t("waived"),
    fee: t("kept by the payment service"),
  };
  const ways = {
    "": "",
    card: t("by card"),
    voucher: t("by voucher"),
    transfer: t("by bank transfer"),
    cash: t("in cash"),
    hand: t("noted by hand"),
  };
  const why = (e: Entry) =>
    e.reason === "lapsing"
      ? t("its transfer did not come in")
      : e.reason === "cancelling"
        ? t("cancelled")
        : e.reason === "changing"
          ? t("an answer changed the price")
          : e.reason === "returning"
            ? t("given back")
            : e.kind === "charged"
              ? dueWords(e.due ?? "")
              : ways[e.way];
  return { kind: (e: Entry) => kinds[e.kind], why };
}

// Ledger lists what happened with an order's money.
export function Ledger({ entries, currency }: { entries: Entry[]; currency: string }) {
  const { t } = useTranslation();
  const { today, session } = useHere();
  const words = useEntryWords();
  return (
    <ol className="ledger small" aria-label={t("Ledger")}>
      {entries.map((e, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: entries are only added
        <li key={i}>
          <span>{words.kind(e)}</span>
          <span className="num">{plain(e.amount, currency)}</span>
          <span className="quiet">
            {[day(local(e.at, session.zone).day, today), words.why(e), e.by, e.note]
              .filter(Boolean)
              .join(" · ")}
          </span>
        </li>
      ))}
    </ol>
  );
}
