import { useTranslation } from "react-i18next";
import type { Schemas } from "../../../shared/api/client";
import { Labelled } from "../../../shared/Labelled";
import { WholeBox } from "../../../shared/questions/boxes";
import { SpanRules } from "./SpanRules";

type Stays = Schemas["Stays"];
type Props = { stays: Stays; by: "days" | "nights"; set: (stays: Stays) => void };

// StayRules edits how days or nights are booked: when they begin and end, and how
// long they are.
export function StayRules({ stays, by, set }: Props) {
  const { t } = useTranslation();
  const nights = by === "nights";
  const clock = (key: "arrive" | "depart", wording: string) => (
    <Labelled id={key} wording={wording}>
      <input
        id={key}
        type="time"
        className="plain-field"
        value={written(stays[key])}
        onChange={(e) => e.target.value && set({ ...stays, [key]: minutes(e.target.value) })}
      />
    </Labelled>
  );
  return (
    <>
      <div className="pair three">
        {clock("arrive", nights ? t("Arrival from") : t("A day begins"))}
        {clock("depart", nights ? t("Departure until") : t("A day ends"))}
        <Labelled id="turnaround" wording={t("Days between two stays")}>
          <WholeBox
            id="turnaround"
            value={stays.turnaround}
            onChange={(turnaround) => set({ ...stays, turnaround })}
          />
        </Labelled>
      </div>
      <SpanRules id="stay" span={stays} nights={nights} set={(span) => set({ ...stays, ...span })} />
    </>
  );
}

const written = (n: number) =>
  `${String(Math.floor(n / 60) % 24).padStart(2, "0")}:${String(n % 60).padStart(2, "0")}`;

const minutes = (text: string) => Number(text.slice(0, 2)) * 60 + Number(text.slice(3, 5));
