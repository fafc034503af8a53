import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";
import { type Address, type HandedFile, markable, size } from "./types";

type Props = {
  files: HandedFile[];
  address: Address;
  look: (file: HandedFile) => void;
  // what else is told of a file
  told?: (file: HandedFile) => ReactNode;
};

// Files shows what was handed over: pictures small, sound and film to be played,
// documents to be read, and all of it to be saved.
export function Files({ files, address, look, told }: Props) {
  const { t } = useTranslation();
  const pictures = files.filter((f) => f.shows === "picture" && !f.gone);
  const others = files.filter((f) => !pictures.includes(f));
  return (
    <>
      {pictures.length > 0 && (
        <ul className="handed-pictures bare">
          {pictures.map((f) => (
            <li key={f.id}>
              <button
                type="button"
                className="handed-picture"
                aria-label={t("Look at {{what}}", { what: f.name })}
                onClick={() => look(f)}
              >
                <img src={address(f, "thumbnail")} alt="" loading="lazy" />
              </button>
              <div className="row handed-name small">
                <span className="grow file-name" title={f.name}>
                  {f.name}
                </span>
                <SaveLink file={f} address={address} />
              </div>
              {told?.(f)}
            </li>
          ))}
        </ul>
      )}
      {others.map((f) => (
        <div key={f.id} className="handed-file">
          <div className="row">
            <span className="grow file-name">
              {f.name} <span className="small quiet num">{size(f.size)}</span>
            </span>
            {markable(f) && (
              <button type="button" className="linkish" onClick={() => look(f)}>
                {t("Read")}
              </button>
            )}
            {f.gone ? (
              <span className="small quiet">{t("not kept any more")}</span>
            ) : (
              <SaveLink file={f} address={address} />
            )}
          </div>
          {/* biome-ignore lint/a11y/useMediaCaption: it is the seller's own work, in whatever form they made it */}
          {f.shows === "sound" && !f.gone && <audio controls preload="none" src={address(f, "view")} />}
          {/* biome-ignore lint/a11y/useMediaCaption: it is the seller's own work, in whatever form they made it */}
          {f.shows === "film" && !f.gone && <video controls preload="metadata" src={address(f, "view")} />}
          {told?.(f)}
        </div>
      ))}
    </>
  );
}

function SaveLink({ file, address }: { file: HandedFile; address: Address }) {
  const { t } = useTranslation();
  return (
    <a
      href={address(file, "download")}
      download={file.name}
      aria-label={t("Save {{what}}", { what: file.name })}
    >
      {t("Save")}
    </a>
  );
}
