import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { day } from "../../shared/format";
import { Files } from "../../shared/handover/Files";
import { Look } from "../../shared/handover/Look";
import { type HandedFile, markable } from "../../shared/handover/types";
import { home } from "../../shared/home";
import "../../shared/handover/handover.css";

type Props = { line: Schemas["OrderLine"]; link: string; today: string };

// AtOnce shows what every buyer gets at once, and says that what is made comes later.
export function AtOnce({ line, link, today }: Props) {
  const { t } = useTranslation();
  const gifts = line.at_once ?? [];
  if (gifts.length === 0) return null;
  return (
    <section className="at-once stack" aria-label={t("Yours at once")}>
      <h3>{t("Yours at once")}</h3>
      {gifts.map((g) => (
        <Gift key={`${g.key} ${g.newer}`} g={g} line={line} link={link} today={today} />
      ))}
      {line.promised && !line.handed && (
        <p className="small quiet">
          {t("What we make for you comes later: it is ready by {{day}}.", { day: day(line.promised, today) })}
        </p>
      )}
    </section>
  );
}

function Gift({ g, line, link, today }: Props & { g: Schemas["AtOnce"] }) {
  const { t } = useTranslation();
  const [at, setAt] = useState<number>();
  // Files are known by their place here, as those of a handover are by their numbers.
  const files = g.files.map((f, i): HandedFile => ({ ...f.file, id: i }));
  const there = files.filter((f) => !g.over && g.files[f.id]?.left !== 0);
  const looked = there.filter(markable);
  const address = (f: { id: number }, as: string) =>
    `${home}/api/shop/orders/${link}/lines/${line.id}/at-once/${g.files[f.id]?.upload}?as=${as}`;
  const left = (f: HandedFile) => {
    const n = g.files[f.id]?.left;
    return n === undefined ? null : (
      <div className="small quiet num">{t("can be taken {{count}} times more", { count: n })}</div>
    );
  };
  return (
    <article className="stack" data-gift={g.key}>
      <div>
        <strong>{g.title}</strong> {g.newer && <span className="mark good">{t("newer")}</span>}
      </div>
      {g.text && <p className="handed-words">{g.text}</p>}
      {!g.over &&
        g.links.map((l) => (
          <a key={l.address} href={l.address} rel="noreferrer" target="_blank">
            {l.title || l.address}
          </a>
        ))}
      <Files
        files={there}
        address={address}
        look={(f) => setAt(looked.findIndex((x) => x.id === f.id))}
        told={left}
      />
      {files.length > there.length && !g.over && (
        <p className="small quiet">
          {t("{{count}} files were taken as often as they can be.", { count: files.length - there.length })}
        </p>
      )}
      {g.over ? (
        <p className="small quiet">{t("The days for this are over.")}</p>
      ) : (
        g.until && (
          <p className="small quiet">{t("Can be had until {{day}}.", { day: day(g.until, today) })}</p>
        )
      )}
      {g.licence && (
        <details className="small">
          <summary>{t("What you may do with it")}</summary>
          <p className="handed-words">{g.licence}</p>
        </details>
      )}
      {at !== undefined && at >= 0 && <Look files={looked} at={at} go={setAt} address={address} />}
    </article>
  );
}
