import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { Problem } from "./api/client";

// Trouble says what went wrong, if anything did, and offers to try again where
// that can help.
export function Trouble({ error, again }: { error: unknown; again?: () => void }) {
  const { t } = useTranslation();
  if (error === undefined || error === null) return null;
  const message = error instanceof Problem ? error.message : t("Something went wrong. Try again.");
  return (
    <div className="notice bad row" role="alert">
      <span className="grow">{message}</span>
      {again && !(error instanceof Problem && error.lasting) && (
        <Button onClick={again}>{t("Try again")}</Button>
      )}
    </div>
  );
}
