import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../api/client";
import { Look } from "./Look";
import { type Address, markable } from "./types";

// Asked shows what a customer asked to be changed: in words, and with the marks on
// what they looked at.
export function Asked({ request, address }: { request: Schemas["ChangeRequest"]; address: Address }) {
  const { t } = useTranslation();
  const [at, setAt] = useState<number>();
  const files = request.files.filter(markable);
  return (
    <div className="asked">
      {request.words && <p className="handed-words">{request.words}</p>}
      {request.marks.length > 0 && (
        <ol className="asked-marks">
          {request.marks.map((m, i) => {
            const of = files.findIndex((f) => f.id === m.file);
            return (
              // biome-ignore lint/suspicious/noArrayIndexKey: marks are known by their numbers
              <li key={i}>
                {m.words}{" "}
                {files[of] && (
                  <button type="button" className="linkish small" onClick={() => setAt(of)}>
                    {files[of].name}
                    {m.page ? `, ${t("Page {{page}}", { page: m.page })}` : ""}
                  </button>
                )}
              </li>
            );
          })}
        </ol>
      )}
      {at !== undefined && (
        <Look
          files={files}
          at={at}
          go={setAt}
          address={address}
          marks={request.marks}
          beside={
            <ol className="asked-marks">
              {request.marks.map((m, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: marks are known by their numbers
                <li key={i} className={m.file === files[at]?.id ? undefined : "quiet"}>
                  {m.words}
                </li>
              ))}
            </ol>
          }
        />
      )}
    </div>
  );
}
