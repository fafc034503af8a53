import { Select } from "antd";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../Labelled";
import { WholeBox } from "../boxes";
import type { EditorProps } from "../types";

type Bound = { day?: string; from_today?: number };

export function Editor({ settings, onChange }: EditorProps) {
  const { t } = useTranslation();
  const bound = (name: "earliest" | "latest", wording: string) => {
    const b = settings[name] as Bound | undefined;
    const kind = b === undefined ? "none" : b.day !== undefined ? "day" : "from_today";
    const set = (next: Bound | undefined) => onChange({ ...settings, [name]: next });
    return (
      <Labelled id={`set-${name}`} wording={wording}>
        <Select
          id={`set-${name}`}
          value={kind}
          onChange={(k) =>
            set(
              k === "none"
                ? undefined
                : k === "day"
                  ? { day: new Date().toISOString().slice(0, 10) }
                  : { from_today: 0 },
            )
          }
          options={[
            { value: "none", label: t("any day") },
            { value: "day", label: t("a fixed day") },
            { value: "from_today", label: t("so many days from today") },
          ]}
        />
        {kind === "day" && (
          <input
            type="date"
            className="plain-field"
            aria-label={wording}
            value={b?.day ?? ""}
            onChange={(e) => e.target.value && set({ day: e.target.value })}
          />
        )}
        {kind === "from_today" && (
          <WholeBox
            id={`set-${name}-days`}
            label={wording}
            suffix={t("days from today")}
            value={b?.from_today}
            onChange={(n) => set({ from_today: n ?? 0 })}
          />
        )}
      </Labelled>
    );
  };
  return (
    <div className="pair">
      {bound("earliest", t("Earliest"))}
      {bound("latest", t("Latest"))}
    </div>
  );
}
