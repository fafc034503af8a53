import { Button, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Labelled } from "../../shared/Labelled";

// Scan takes what a scanner types, or an order's number.
export function Scan({ scan }: { scan: (code: string) => Promise<boolean> }) {
  const { t } = useTranslation();
  const [code, setCode] = useState("");
  return (
    <form
      onSubmit={async (e) => {
        e.preventDefault();
        if (code.trim() && (await scan(code.trim()))) setCode("");
      }}
    >
      <Labelled id="scan" wording={t("Add an order")} help={t("Scan its label, or type its number.")}>
        <div className="row scan">
          <Input id="scan" className="grow" value={code} onChange={(e) => setCode(e.target.value)} />
          <Button htmlType="submit">{t("Add")}</Button>
        </div>
      </Labelled>
    </form>
  );
}
