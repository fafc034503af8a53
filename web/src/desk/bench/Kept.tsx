import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { Problem } from "../../shared/api/client";
import { Trouble } from "../../shared/Trouble";
import type { Kept } from "./useKeeping";

// KeptMark says how far what was typed is kept.
export function KeptMark({ kept, dirty }: { kept: Kept; dirty: boolean }) {
  const { t } = useTranslation();
  const keeping = kept.state === "keeping" || (kept.state === "kept" && dirty);
  return (
    <span role="status">
      {keeping ? t("keeping …") : kept.state === "kept" ? t("draft is kept") : t("draft is not kept")}
    </span>
  );
}

type Props = {
  kept: Kept;
  keep: () => void;
  // reload lets go of what was typed, for the newer state
  reload: () => void;
  // here is this page, to be opened once more
  here: string;
};

// Refused says why something was not kept, and what can be done. What was
// typed stays until its writer lets go of it.
export function Refused({ kept, keep, reload, here }: Props) {
  const { t } = useTranslation();
  if (kept.state !== "refused") return null;
  const conflict = kept.problem instanceof Problem && kept.problem.status === 409;
  return (
    <div className="bench-refused">
      <Trouble error={kept.problem} again={conflict ? undefined : keep} />
      {conflict && (
        <div className="row">
          <span>{t("To see the newer state you have to let go of what you typed since.")}</span>
          <Button onClick={reload}>{t("Look at the newer state")}</Button>
          <Link to={here} target="_blank">
            {t("Open it beside this")}
          </Link>
        </div>
      )}
    </div>
  );
}
