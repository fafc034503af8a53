import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { Drop } from "../Drop";
import { size } from "../handover/types";
import { SendingRow } from "../questions/files/Rows";
import { Trouble } from "../Trouble";
import type { useDraft } from "./useDraft";

// Picked has the files that go with a message.
export function Picked({ draft }: { draft: ReturnType<typeof useDraft> }) {
  const { t } = useTranslation();
  return (
    <>
      {draft.files.map((f) => (
        <div key={f.id} className="row">
          <span className="grow file-name">
            {f.name} <span className="small quiet num">{size(f.size)}</span>
          </span>
          <Button
            size="small"
            aria-label={t("Take {{what}} away", { what: f.name })}
            onClick={() => draft.drop(f)}
          >
            ×
          </Button>
        </div>
      ))}
      {draft.sending.map((s) => (
        <SendingRow key={s.key} s={s} again={() => draft.again(s)} cancel={() => draft.cancel(s)} />
      ))}
      <Drop wording={t("Files of the message")} most={10} add={(list) => draft.begin([...(list ?? [])])}>
        {t("or drop it here")}
      </Drop>
      <Trouble error={draft.problem} />
    </>
  );
}
