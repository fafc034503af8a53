import { useQuery } from "@tanstack/react-query";
import { Checkbox, Input, Modal, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { day } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { Trouble } from "../../shared/Trouble";
import type { Decision, Item, useDecide } from "./useDecide";

type Props = {
  item: Item;
  // what it was dragged to
  to?: Decision;
  people: Schemas["WorkPerson"][];
  today: string;
  decide: ReturnType<typeof useDecide>;
  close: () => void;
};

// DecideDialog gives an item to somebody, another day, or another place in the queue:
// it says which orders that makes done on another day before it is done.
export function DecideDialog({ item, to, people, today, decide, close }: Props) {
  const { t } = useTranslation();
  const [d, setD] = useState<Decision>({
    assigned: item.assigned ?? 0,
    own_due: item.own_due ?? "",
    own_from: item.own_from ?? "",
    priority: item.priority ?? 0,
    note: item.note ?? "",
    ...to,
  });
  const placing = { assigned: d.assigned, own_due: d.own_due, own_from: d.own_from, priority: d.priority };
  const ahead = useQuery({
    queryKey: ["foresee", item.id, item.version, placing],
    queryFn: () =>
      take(
        api.POST("/api/desk/items/{item}/foresee", {
          params: { path: { item: item.id } },
          body: { ...placing, version: item.version ?? 0 },
        }),
      ),
    placeholderData: (old) => old,
    retry: false,
  });
  const keep = async () => {
    if (await decide.decide(item, d)) close();
  };
  return (
    <Modal
      open
      width={640}
      title={item.title}
      okText={t("Do it")}
      cancelText={t("Leave it as it was")}
      okButtonProps={{ loading: decide.busy, disabled: ahead.error !== null }}
      onOk={keep}
      onCancel={close}
    >
      <div className="pair three">
        <Labelled id="decide-person" wording={t("Who does it")}>
          <Select
            id="decide-person"
            className="full"
            value={d.assigned}
            onChange={(assigned) => setD({ ...d, assigned })}
            options={[
              { value: 0, label: item.planned_for ?? t("anybody who has time") },
              ...people.map((p) => ({ value: p.id, label: p.name })),
            ]}
          />
        </Labelled>
        <Labelled id="decide-day" wording={t("By the day")}>
          <input
            id="decide-day"
            type="date"
            className="plain-field"
            value={d.own_due}
            onChange={(e) =>
              setD({ ...d, own_due: e.target.value, own_from: d.own_from ? e.target.value : "" })
            }
          />
          {d.own_due && (
            <Checkbox
              checked={d.own_from !== ""}
              onChange={(e) => setD({ ...d, own_from: e.target.checked ? d.own_due : "" })}
            >
              {t("not before it")}
            </Checkbox>
          )}
        </Labelled>
        <Labelled id="decide-priority" wording={t("Its turn")}>
          <Select
            id="decide-priority"
            className="full"
            value={d.priority}
            onChange={(priority) => setD({ ...d, priority })}
            options={[
              { value: 1, label: t("before the others") },
              { value: 0, label: t("when it is due") },
              { value: -1, label: t("after the others") },
            ]}
          />
        </Labelled>
      </div>
      <Labelled id="decide-note" wording={t("Note")}>
        <Input.TextArea
          id="decide-note"
          rows={2}
          value={d.note}
          maxLength={5000}
          onChange={(e) => setD({ ...d, note: e.target.value })}
        />
      </Labelled>
      <Trouble error={ahead.error ?? decide.problem} />
      {ahead.data && <Foresight of={ahead.data} today={today} />}
    </Modal>
  );
}

// Foresight says when the item is done then, and which orders are done on another day.
function Foresight({ of, today }: { of: Schemas["Foresight"]; today: string }) {
  const { t } = useTranslation();
  const when = (iso: string) => (iso ? day(iso, today) : t("nobody can do it"));
  return (
    <div className="stack-tight foresight" aria-live="polite">
      <div>
        {of.ends ? (
          <>
            {t("It will be done on")} <strong>{day(of.ends, today)}</strong>
          </>
        ) : (
          <span className="mark bad">{t("Nobody can do it then.")}</span>
        )}
      </div>
      {of.moves.length === 0 ? (
        <div className="quiet small">{t("No order is done on another day.")}</div>
      ) : (
        <table className="foresight-moves">
          <thead>
            <tr>
              <th>{t("Order")}</th>
              <th>{t("now")}</th>
              <th>{t("then")}</th>
              <th>{t("promised")}</th>
            </tr>
          </thead>
          <tbody>
            {of.moves.map((m) => (
              <tr key={m.line}>
                <td>
                  <span className="num">{m.number}</span> {m.customer}
                  <div className="small quiet">{m.product}</div>
                </td>
                <td>{when(m.before)}</td>
                <td>
                  <strong>{when(m.after)}</strong>
                  {m.late && (
                    <div>
                      <span className="mark bad">▲ {t("late")}</span>
                    </div>
                  )}
                  {m.mended && (
                    <div>
                      <span className="mark good">{t("in time again")}</span>
                    </div>
                  )}
                </td>
                <td>{m.promised ? day(m.promised, today) : "–"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
