import { useTranslation } from "react-i18next";
import { Labelled } from "../../Labelled";
import { WholeSetting } from "../settings";
import type { EditorProps } from "../types";

export function Editor(p: EditorProps) {
  const { t } = useTranslation();
  const end = (name: "earliest" | "latest", wording: string) => (
    <Labelled id={`set-${name}`} wording={wording}>
      <input
        id={`set-${name}`}
        type="time"
        className="plain-field narrow"
        value={(p.settings[name] as string | undefined) ?? ""}
        onChange={(e) => p.onChange({ ...p.settings, [name]: e.target.value || undefined })}
      />
    </Labelled>
  );
  return (
    <div className="pair">
      {end("earliest", t("Earliest"))}
      {end("latest", t("Latest"))}
      <WholeSetting {...p} name="step" wording={t("In steps of")} suffix={t("minutes")} />
    </div>
  );
}
