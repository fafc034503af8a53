import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useParams } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day } from "../../shared/format";
import { Files } from "../../shared/handover/Files";
import { Look } from "../../shared/handover/Look";
import { type Address, markable } from "../../shared/handover/types";
import { home } from "../../shared/home";
import { lost } from "../../shared/lost";
import { loadFields } from "../../shared/questions/fields";
import { Trouble } from "../../shared/Trouble";
import { TodayContext } from "../../shared/today";
import { BriefField } from "../order/BriefField";
import { useGiftSaving } from "../order/saving";
import { ToAnswer, useStay } from "../order/ToAnswer";
import { type Brief, useBrief } from "../order/useBrief";

// GiftPage is the page of whoever somebody else ordered for. It says no price.
export function GiftPage() {
  const { t } = useTranslation();
  const { link = "" } = useParams();
  const gift = useQuery({
    queryKey: ["gift", link],
    queryFn: async () => {
      const g = await take(api.GET("/api/shop/gifts/{link}", { params: { path: { link } } }));
      await loadFields(g.lines.flatMap((l) => l.page.questions));
      return g;
    },
    refetchInterval: 60_000,
  });
  if (lost(gift)) return <Trouble error={gift.error} again={() => gift.refetch()} />;
  const g = gift.data;
  if (!g) return null;
  return (
    <TodayContext.Provider value={g.today}>
      <div className="order stack">
        <header className="stack-tight">
          <h1>{t("{{name}}, this is for you", { name: g.name })}</h1>
          <p className="quiet">
            {t("{{buyer}} ordered it at {{business}}.", { buyer: g.buyer, business: g.business })}
          </p>
        </header>
        {g.words && <blockquote className="gift-words">{g.words}</blockquote>}
        {g.cancelled && (
          <div className="notice attention" role="status">
            {t("Nothing comes of it any more. {{buyer}} knows why.", { buyer: g.buyer })}
          </div>
        )}
        {g.lines.map((line) => (
          <GiftLine key={line.id} gift={g} line={line} link={link} />
        ))}
      </div>
    </TodayContext.Provider>
  );
}

type LineProps = { gift: Schemas["Gift"]; line: Schemas["GiftLine"]; link: string };

function GiftLine({ gift, line, link }: LineProps) {
  const { t } = useTranslation();
  const brief = useBrief(line, useGiftSaving(line.id, link));
  const stay = useStay(line, brief);
  const [looking, setLooking] = useState<number>();
  const large = line.handed.filter(markable);
  const address: Address = (f, as) => `${home}/api/shop/gifts/${link}/handed/${f.id}?as=${as}`;
  const closed = line.brief === "closed";
  return (
    <section className="sheet stack">
      <div className="gift-head">
        {line.picture && <img src={`/pictures/${line.picture}`} alt="" width="160" height="100" />}
        <div className="stack-tight">
          <h2>{line.quantity > 1 ? `${line.quantity} × ${line.title}` : line.title}</h2>
          {line.booked && <strong>{line.booked}</strong>}
        </div>
      </div>
      <ToAnswer line={line} brief={brief} stay={stay} />
      {!closed && line.closes && line.page.questions.length > 0 && (
        <p className="small quiet">
          {t("You can change it until {{day}}.", { day: day(line.closes, gift.today) })}
        </p>
      )}
      <Told line={line} brief={brief} hide={stay.keys} closed={closed} />
      {line.said.length > 0 && <h3>{t("What was chosen")}</h3>}
      {line.said.length > 0 && (
        <dl className="answers" aria-label={t("What was chosen")}>
          {line.said.map((s) => (
            <div key={s.wording}>
              <dt>{s.wording}</dt>
              <dd className="answer-words">{s.answer}</dd>
            </div>
          ))}
        </dl>
      )}
      {line.handed.length > 0 && (
        <div className="stack">
          <h3>{t("It is ready")}</h3>
          <Files files={line.handed} address={address} look={(f) => setLooking(large.indexOf(f))} />
          {looking !== undefined && <Look files={large} at={looking} go={setLooking} address={address} />}
        </div>
      )}
    </section>
  );
}

type ToldProps = { line: Schemas["GiftLine"]; brief: Brief; hide: string[]; closed: boolean };

// Told is what the recipient answered, which they can change while the brief is open.
function Told({ line, brief, hide, closed }: ToldProps) {
  const { t } = useTranslation();
  const [changing, setChanging] = useState<string[]>([]);
  const told = line.page.questions.flatMap((q) => {
    const asked = line.asked.find((a) => a.key === q.key && a.answered);
    return asked && !hide.includes(q.key) ? [{ q, asked }] : [];
  });
  if (told.length === 0) return null;
  return (
    <dl className="answers" aria-label={t("Your answers")}>
      {told.map(({ q, asked }) =>
        changing.includes(q.key) && !closed ? (
          <div key={q.key} className="answer-edit">
            <BriefField q={q} line={line} brief={brief} prefix={`g${line.id}`} />
            <Button size="small" onClick={() => setChanging((old) => old.filter((k) => k !== q.key))}>
              {t("Done")}
            </Button>
          </div>
        ) : (
          <div key={q.key}>
            <dt>{q.wording}</dt>
            <dd>
              <span className="answer-words grow">{asked.words}</span>
              {!closed && (
                <button
                  type="button"
                  className="linkish small"
                  aria-label={t("Change {{what}}", { what: q.wording })}
                  onClick={() => setChanging((old) => [...old, q.key])}
                >
                  {t("Change")}
                </button>
              )}
            </dd>
          </div>
        ),
      )}
    </dl>
  );
}
