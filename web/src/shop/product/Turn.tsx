import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useTranslation } from "react-i18next";
import { useSearchParams } from "react-router";
import { api, keptTurns, type Schemas, take } from "../../shared/api/client";
import { local, longDay } from "../../shared/format";
import { load, save } from "../../shared/kept";
import { lost } from "../../shared/lost";
import type { Booking } from "../../shared/questions/booking/Field";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";

// bookingKey gives the key of the question that asks for the booking.
export const bookingKey = (page: Schemas["ProductPage"]) =>
  page.questions.find((q) => q.kind === "booking")?.key ?? "";

type Props = {
  page: Schemas["ProductPage"];
  put: (value: Booking) => void;
};

// Turn shows what is held for somebody who waited for it and followed the address in
// their mail, and puts it into the form.
export function Turn({ page, put }: Props) {
  const { t } = useTranslation();
  const [params, setParams] = useSearchParams();
  const secret = params.get("turn") ?? "";
  // Kept before anything is asked, so that what is held is not in its own way.
  if (secret && !turns().includes(secret)) save(keptTurns, [secret, ...turns()].slice(0, 5));
  const turn = useQuery({
    queryKey: ["turn", secret],
    queryFn: () => take(api.GET("/api/shop/turns/{secret}", { params: { path: { secret } } })),
    enabled: secret !== "",
    retry: false,
  });
  const leave = useChange({
    send: () => take(api.DELETE("/api/shop/turns/{secret}", { params: { path: { secret } } })),
    refreshes: ["days"],
    done: () => {
      save(
        keptTurns,
        turns().filter((s) => s !== secret),
      );
      setParams({}, { replace: true });
    },
  });
  const held = turn.data;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is held is put in once
  useEffect(() => {
    if (held)
      put({ start: held.start, end: held.end, people: held.people, meetings: held.meetings, of: held.of });
  }, [held]);
  if (!secret) return null;
  if (lost(turn)) return <Trouble error={turn.error} />;
  if (!held) return null;
  const zone = page.booking?.zone ?? "UTC";
  const until = local(held.until, zone);
  return (
    <div className="notice good" role="status">
      {t("It is your turn: this is held for you until {{day}}, {{time}}.", {
        day: longDay(until.day),
        time: until.time,
      })}{" "}
      <button type="button" className="linkish" disabled={leave.busy} onClick={() => leave.send()}>
        {t("Leave it to the next one")}
      </button>
      <Trouble error={leave.problem} />
    </div>
  );
}

const turns = () => load<string[]>(keptTurns, []);
