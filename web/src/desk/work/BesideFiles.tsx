import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { Drop } from "../../shared/Drop";
import { home } from "../../shared/home";
import { SendingRow } from "../../shared/questions/files/Rows";
import { useFinished } from "../handover/useFinished";

type File = { file: string; name: string };

// address is where a file lies that lies beside work.
const address = (f: File, as: string) => `${home}/api/desk/beside/${f.file}?as=${as}`;

// BesideFiles shows the files that lie beside work, those of its step first, and takes
// more.
export function BesideFiles({
  own,
  step,
  adding,
  coming = [],
  set,
}: {
  own: File[];
  step: File[];
  adding: boolean;
  // those of its own that are not kept yet
  coming?: File[];
  set?: (files: File[]) => void;
}) {
  const { t } = useTranslation();
  const { sending, begin, again, cancel } = useFinished((u) => set?.([...own, { file: u.id, name: u.name }]));
  return (
    <>
      {[...step, ...own].map((f, i) => (
        <div key={f.file} className="row small beside-file">
          {coming.includes(f) ? (
            <span className="quiet">{f.name}</span>
          ) : (
            <a href={address(f, "view")} target="_blank" rel="noreferrer">
              {f.name}
            </a>
          )}
          {set && i >= step.length && (
            <Button
              size="small"
              type="text"
              aria-label={t("Take {{what}} away", { what: f.name })}
              onClick={() => set(own.filter((o) => o.file !== f.file))}
            >
              ×
            </Button>
          )}
        </div>
      ))}
      {sending.map((s) => (
        <SendingRow key={s.key} s={s} again={() => again(s)} cancel={() => cancel(s)} />
      ))}
      {set && adding && (
        <Drop wording={t("Files beside the work")} most={20} add={(list) => begin([...(list ?? [])])} />
      )}
    </>
  );
}
