import { useQueryClient } from "@tanstack/react-query";
import { Input, Modal, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, Problem, type Schemas, take } from "../../shared/api/client";
import { Labelled } from "../../shared/Labelled";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";

type Props = {
  product: Schemas["DeskProduct"];
  // sheets that the product uses
  sheets: Schemas["SheetRow"][];
  close: () => void;
  done: () => void;
};

// TakeDialog takes questions of the product, with their charges and steps, into
// a sheet: a new one, or one that the product uses.
export function TakeDialog({ product, sheets, close, done }: Props) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [keys, setKeys] = useState<string[]>([]);
  const [sheet, setSheet] = useState(0);
  const [name, setName] = useState("");
  const send = useChange({
    once: true,
    send: () =>
      take(
        api.POST("/api/desk/products/{id}/take", {
          params: { path: { id: product.id } },
          body: {
            version: product.version,
            questions: keys,
            ...(sheet ? { sheet } : { name }),
          },
        }),
      ),
    done: () => {
      queries.invalidateQueries({ queryKey: ["sheets"] });
      done();
    },
  });
  const { problem } = send;
  const told = problem instanceof Problem ? problem.errors.filter((e) => e.key !== "name") : [];
  const used = new Set(product.linked.map((q) => q.sheet));
  return (
    <Modal
      open
      title={t("Questions into a sheet")}
      okText={t("Take them into the sheet")}
      cancelText={t("Leave it as it was")}
      okButtonProps={{
        disabled: keys.length === 0 || (sheet === 0 && name.trim() === ""),
        loading: send.busy,
      }}
      onOk={() => send.send()}
      onCancel={close}
    >
      <p className="small quiet">
        {t(
          "Their charges and the steps that need only them go along. This product uses the sheet then, and others can.",
        )}
      </p>
      <Trouble error={problem} />
      {told.map((e) => (
        <div key={e.message} className="notice bad small">
          {e.message}
        </div>
      ))}
      <Labelled id="take-questions" wording={t("Which questions")}>
        <Select
          id="take-questions"
          className="full"
          mode="multiple"
          optionFilterProp="label"
          value={keys}
          onChange={setKeys}
          options={(product.draft.questions ?? [])
            .filter((q) => q.kind !== "booking")
            .map((q) => ({ value: q.key, label: q.wording || q.key }))}
        />
      </Labelled>
      <Labelled id="take-sheet" wording={t("Into")}>
        <Select
          id="take-sheet"
          className="full"
          value={sheet}
          onChange={setSheet}
          options={[
            { value: 0, label: t("a new sheet") },
            ...sheets.filter((s) => used.has(s.id)).map((s) => ({ value: s.id, label: s.name })),
          ]}
        />
      </Labelled>
      {sheet === 0 ? (
        <Labelled id="take-name" wording={t("Name of the sheet")} fault={send.of("name")}>
          <Input id="take-name" value={name} maxLength={120} onChange={(e) => setName(e.target.value)} />
        </Labelled>
      ) : (
        <p className="small">
          {t(
            "All products that use this sheet ask these questions then, and get a new edition where they are on sale.",
          )}
        </p>
      )}
    </Modal>
  );
}
