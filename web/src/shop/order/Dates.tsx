import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { away, day, local, money } from "../../shared/format";

type Props = { order: Schemas["OrderPage"] };
type Date = { day: string; what: string; of: string; key: string };

// Dates tells what happens next by its days: what is booked, when it is ready, until
// when something can be changed, answered or saved.
export function Dates({ order }: Props) {
  const { t } = useTranslation();
  const { today } = order;
  const on = (instant: string) => local(instant, order.zone);
  const dates: Date[] = [];
  if (order.awaiting)
    dates.push({ day: order.awaiting.until, what: t("your transfer is here"), of: "", key: "transfer" });
  for (const line of order.lines) {
    if (line.cancelled || order.money.state !== "placed") continue;
    const of = order.lines.length > 1 ? line.page.title : "";
    const add = (day: string, what: string) => {
      if (day >= today) dates.push({ day, what, of, key: `${line.id} ${what}` });
    };
    for (const a of line.asked) {
      const q = line.page.questions.find((x) => x.key === a.key);
      const value = line.answers[a.key] as { start?: string } | undefined;
      if (q?.kind === "booking" && value?.start) {
        const at = on(value.start);
        add(at.day, t("booked, {{time}}", { time: at.time }));
      }
    }
    if (line.closes) add(line.closes, t("last day to change your answers"));
    if (line.promised && !line.handed) add(line.promised, t("it is ready by then"));
    const given = line.handovers?.[0];
    if (given?.until) add(given.until, t("the files are kept until then"));
    if (given?.silent && given.asks && given.state === "given")
      add(given.silent, t("without a word from you it counts as accepted then"));
  }
  if (order.money.state === "placed") {
    for (const p of order.money.parts) {
      if (!/^\d{4}-/.test(p.due) || p.due < today) continue;
      const amount = money(p.amount, order.slip.currency);
      dates.push({
        day: p.due,
        what: t("{{amount}} is to be paid", { amount }),
        of: "",
        key: `part ${p.due}`,
      });
    }
  }
  if (dates.length === 0) return null;
  dates.sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0));
  return (
    <section className="sheet dates" aria-label={t("What comes")}>
      <h2>{t("What comes")}</h2>
      <dl className="date-list">
        {dates.map((d) => (
          <div key={d.key}>
            <dt>
              <strong>{day(d.day, today)}</strong> <span className="small quiet">{away(d.day, today)}</span>
            </dt>
            <dd>
              {d.what} {d.of && <span className="quiet">· {d.of}</span>}
            </dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
