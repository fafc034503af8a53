import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { day } from "../../shared/format";
import { size } from "../../shared/handover/types";
import { home } from "../../shared/home";
import type { Upload } from "../../shared/questions/files/sending";
import { useHere } from "../here";
import { type How, HowGiven } from "./How";
import type { Given } from "./useHandOver";

type Line = Schemas["HandoverLine"];
type Match = Schemas["FinishedMatch"];

type Props = {
  line: Line;
  files: Upload[];
  by: (f: Upload) => Match["by"];
  how: How;
  set: (how: How) => void;
  given?: Given;
  loose: number;
  take: () => void;
  out: (f: Upload) => void;
};

// Group is an order with the files that it gets.
export function Group({ line, files, by, how, set, given, loose, take: takeLoose, out }: Props) {
  const { t } = useTranslation();
  const { today } = useHere();
  const known: Record<NonNullable<Match["by"]>, string> = {
    number: t("by its number"),
    pattern: t("by the pattern"),
    file: t("by the customer’s file"),
    customer: t("by the customer’s name"),
  };
  const gave = given?.state === "given" && files.length === 0;
  return (
    <section
      className={gave ? "sheet stack hand-group gave" : "sheet stack hand-group"}
      data-order={line.number}
    >
      <div className="row">
        <Link to={`/orders/${line.line}`} className="num">
          {line.number}
        </Link>
        <strong>{line.customer}</strong>
        <span className="quiet">{line.title}</span>
        <span className="grow" />
        {line.promised && !gave && (
          <span className="small quiet">{t("promised {{day}}", { day: day(line.promised, today) })}</span>
        )}
        {gave ? (
          <span className="mark good">✓ {t("handed over")}</span>
        ) : given?.state === "going" ? (
          <span className="mark plain">{t("on its way")}</span>
        ) : (
          line.handed && <span className="mark plain">{t("was handed over before")}</span>
        )}
      </div>
      {given?.state === "refused" && <div className="notice bad">{given.message}</div>}
      {!gave && (
        <>
          <div className="hand-files">
            {files.map((f) => {
              const how = by(f);
              return (
                <div key={f.id} className="row hand-file">
                  <Thumb f={f} />
                  <span className="grow">
                    <span className="file-name">{f.name}</span>
                    <span className="small quiet">
                      {size(f.size)}, {how ? known[how] : t("by hand")}
                    </span>
                  </span>
                  <Button
                    size="small"
                    aria-label={t("Take {{what}} out of this order", { what: f.name })}
                    onClick={() => out(f)}
                  >
                    ×
                  </Button>
                </div>
              );
            })}
          </div>
          {files.length === 0 && <div className="small quiet">{t("No file of it yet.")}</div>}
          {loose > 0 && (
            <div>
              <Button size="small" onClick={takeLoose}>
                {t("Take the {{count}} files without an order", { count: loose })}
              </Button>
            </div>
          )}
          <HowGiven of={line} how={how} set={set} />
        </>
      )}
    </section>
  );
}

function Thumb({ f }: { f: Upload }) {
  const [none, setNone] = useState(!f.picture);
  if (none) return <span className="thumb none" aria-hidden="true" />;
  return (
    <span className="thumb">
      <img src={`${home}/api/shop/uploads/${f.id}/thumbnail`} alt="" onError={() => setNone(true)} />
    </span>
  );
}
