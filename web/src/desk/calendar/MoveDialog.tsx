import { useQuery } from "@tanstack/react-query";
import { Checkbox, Input, Modal } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, take } from "../../shared/api/client";
import { money } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { WholeBox } from "../../shared/questions/boxes";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { CourseMove } from "./CourseMove";
import type { Booking, Target } from "./times";

type Props = { booking: Booking; to: Target; close: () => void };

// MoveDialog moves what is booked: it says what that breaks, what it does to the
// price and to the work, before it is done; and writes to the customer, with a word
// if the seller likes.
export function MoveDialog({ booking, to: start, close }: Props) {
  const { t } = useTranslation();
  const [to, setTo] = useState<Target>(start);
  const [word, setWord] = useState("");
  const [silent, setSilent] = useState(false);
  const path = { line: booking.line };
  const version = booking.version;
  const preview = useQuery({
    queryKey: ["move", booking.line, version, to],
    queryFn: () =>
      take(
        api.POST("/api/desk/dockets/{line}/booking/preview", { params: { path }, body: { ...to, version } }),
      ),
    placeholderData: (old) => old,
    retry: false,
  });
  const move = useChange({
    once: true,
    send: () =>
      take(
        api.POST("/api/desk/dockets/{line}/booking", {
          params: { path },
          body: {
            ...to,
            version,
            anyway: preview.data?.against !== undefined || undefined,
            agreed: preview.data?.after,
            word: word || undefined,
            silent: silent || undefined,
          },
        }),
      ),
    waits: ["calendar"],
    refreshes: ["today", "docket", "orders"],
    done: close,
  });
  const p = preview.data;
  const amount = (n: number) => money(n, p?.currency ?? "EUR");
  return (
    <Modal
      open
      title={t("Move {{who}}: {{product}}", { who: booking.customer, product: booking.product })}
      okText={p?.against ? t("Move it anyway") : t("Move it")}
      okButtonProps={{
        loading: move.busy,
        disabled: !p || preview.error !== null,
        danger: p?.against !== undefined,
      }}
      cancelText={t("Leave it as it was")}
      onOk={() => move.send()}
      onCancel={close}
    >
      {booking.meeting !== undefined && <CourseMove booking={booking} to={to} set={setTo} />}
      <div className="pair three" hidden={to.course !== undefined}>
        <Labelled id="move-day" wording={booking.stay ? t("First day") : t("Day")}>
          <input
            id="move-day"
            type="date"
            className="plain-field"
            value={to.day}
            onChange={(e) => e.target.value && setTo({ ...to, day: e.target.value })}
          />
        </Labelled>
        {booking.stay ? (
          <Labelled id="move-last" wording={t("Last day")}>
            <input
              id="move-last"
              type="date"
              className="plain-field"
              value={to.last ?? booking.last}
              onChange={(e) => e.target.value && setTo({ ...to, last: e.target.value })}
            />
          </Labelled>
        ) : (
          <>
            <Labelled id="move-time" wording={t("Time")}>
              <input
                id="move-time"
                type="time"
                className="plain-field"
                value={to.time ?? booking.time}
                onChange={(e) => e.target.value && setTo({ ...to, time: e.target.value })}
              />
            </Labelled>
            <Labelled id="move-minutes" wording={t("Length")}>
              <WholeBox
                id="move-minutes"
                suffix={t("minutes")}
                value={to.minutes ?? booking.minutes}
                onChange={(minutes) => setTo({ ...to, minutes })}
              />
            </Labelled>
          </>
        )}
      </div>
      <Trouble error={preview.error ?? move.problem} />
      {p && (
        <div className="stack-tight" aria-live="polite">
          <strong>{p.words}</strong>
          {p.with.length > 0 && <div className="quiet">{p.with.join(", ")}</div>}
          {p.against && <div className="notice attention">{p.against}</div>}
          {p.after !== p.before && (
            <div>
              {p.after > p.before
                ? t("The order costs {{amount}} more then.", { amount: amount(p.after - p.before) })
                : t("The order costs {{amount}} less then.", { amount: amount(p.before - p.after) })}
            </div>
          )}
          {p.items > 0 && <div>{t("{{count}} work items move along.", { count: p.items })}</div>}
        </div>
      )}
      <Labelled
        id="move-word"
        wording={t("A word to the customer")}
        help={t("It stands in the mail that tells of the move.")}
      >
        <Input.TextArea
          id="move-word"
          rows={3}
          maxLength={2000}
          value={word}
          disabled={silent}
          onChange={(e) => setWord(e.target.value)}
        />
      </Labelled>
      <Checkbox checked={silent} onChange={(e) => setSilent(e.target.checked)}>
        {t("no mail; I tell them myself")}
      </Checkbox>
    </Modal>
  );
}
