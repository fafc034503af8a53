import { Button, Input } from "antd";
import { useTranslation } from "react-i18next";
import type { Fault } from "../types";
import type { Uploaded } from "./Field";
import type { Sending } from "./sending";
import { Thumb } from "./Thumb";

type FileRowProps = {
  file: Uploaded;
  captions: boolean;
  fault: Fault | undefined;
  disabled?: boolean;
  crop?: () => void;
  caption: (caption: string | undefined) => void;
  take: () => void;
};

// FileRow is a file that is there: small, with its name and caption.
export function FileRow({ file: f, captions, fault, disabled, crop, caption, take }: FileRowProps) {
  const { t } = useTranslation();
  return (
    <div className={fault ? "file wrong" : "file"}>
      <Thumb file={f} />
      <div className="grow">
        <div className="row file-head">
          <span className="grow file-name">{f.name}</span>
          {crop && (
            <Button size="small" disabled={disabled} onClick={crop}>
              {t("Crop")}
            </Button>
          )}
          <Button
            size="small"
            disabled={disabled}
            aria-label={t("Take {{what}} away", { what: f.name })}
            onClick={take}
          >
            ×
          </Button>
        </div>
        {captions && (
          <Input
            size="small"
            value={f.caption ?? ""}
            disabled={disabled}
            placeholder={t("Caption")}
            aria-label={t("Caption of {{what}}", { what: f.name })}
            onChange={(e) => caption(e.target.value || undefined)}
          />
        )}
        {fault && (
          <div className="question-fault" role="alert">
            {fault.message}
          </div>
        )}
      </div>
    </div>
  );
}

// SendingRow is a file on its way, or one that did not get through.
export function SendingRow({ s, again, cancel }: { s: Sending; again: () => void; cancel: () => void }) {
  const { t } = useTranslation();
  return (
    <div className={s.state === "refused" ? "file wrong" : "file"}>
      <div className="grow">
        <div className="row file-head">
          <span className="grow file-name">{s.file.name}</span>
          {s.state === "stopped" && s.message && (
            <Button size="small" onClick={again}>
              {t("Try again")}
            </Button>
          )}
          <Button size="small" aria-label={t("Stop {{what}}", { what: s.file.name })} onClick={cancel}>
            ×
          </Button>
        </div>
        {s.state === "refused" ? (
          <div className="question-fault" role="alert">
            {s.message}
          </div>
        ) : (
          <Progress s={s} />
        )}
      </div>
    </div>
  );
}

function Progress({ s }: { s: Sending }) {
  const { t } = useTranslation();
  const size = Math.max(s.file.size, 1);
  return (
    <>
      <div className="row file-progress">
        <progress
          max={size}
          value={s.received}
          aria-label={t("{{what}} is on its way", { what: s.file.name })}
        />
        <span className="small quiet num">{Math.floor((100 * s.received) / size)} %</span>
      </div>
      {s.state === "stopped" && (
        <div className="small quiet" role="status">
          {s.message ?? t("The connection is lost; trying again …")}
        </div>
      )}
    </>
  );
}
