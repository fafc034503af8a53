import { Button, Input, Modal, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { Labelled } from "../../shared/Labelled";
import { WholeBox } from "../../shared/questions/boxes";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { workLists } from "./useDecide";

type Props = { people: Schemas["WorkPerson"][]; today: string; line?: number };

// NewItem adds work that no plan knows: to an order, or to none.
export function NewItem({ people, today, line }: Props) {
  const { t } = useTranslation();
  const fresh = { title: "", minutes: 15 as number | undefined, due: today, assigned: 0, repeats: "" };
  const [open, setOpen] = useState(false);
  const [v, setV] = useState(fresh);
  const add = useChange({
    once: true,
    send: () =>
      take(
        api.POST("/api/desk/items", {
          body: {
            title: v.title,
            minutes: v.minutes ?? 0,
            due: v.due,
            assigned: v.assigned || undefined,
            repeats: v.repeats || undefined,
            line,
          },
        }),
      ),
    refreshes: workLists,
    done: () => {
      setOpen(false);
      setV(fresh);
    },
  });
  return (
    <>
      <Button onClick={() => setOpen(true)}>{t("Add work")}</Button>
      <Modal
        open={open}
        destroyOnHidden
        title={t("Add work")}
        okText={t("Add work")}
        cancelText={t("Leave it")}
        okButtonProps={{ loading: add.busy }}
        onOk={() => add.send()}
        onCancel={() => setOpen(false)}
      >
        <Labelled id="item-title" wording={t("What is to be done")} fault={add.of("title")}>
          <Input
            id="item-title"
            value={v.title}
            maxLength={200}
            onChange={(e) => setV({ ...v, title: e.target.value })}
          />
        </Labelled>
        <div className="pair">
          <Labelled id="item-due" wording={t("By the day")} fault={add.of("due")}>
            <input
              id="item-due"
              type="date"
              className="plain-field"
              value={v.due}
              onChange={(e) => setV({ ...v, due: e.target.value })}
            />
          </Labelled>
          <Labelled id="item-minutes" wording={t("Minutes")} fault={add.of("minutes")}>
            <WholeBox id="item-minutes" value={v.minutes} onChange={(minutes) => setV({ ...v, minutes })} />
          </Labelled>
          <Labelled id="item-person" wording={t("Who does it")} fault={add.of("assigned")}>
            <Select
              id="item-person"
              className="full"
              value={v.assigned}
              onChange={(assigned) => setV({ ...v, assigned })}
              options={[
                { value: 0, label: t("anybody who has time") },
                ...people.map((p) => ({ value: p.id, label: p.name })),
              ]}
            />
          </Labelled>
          {line === undefined && (
            <Labelled id="item-repeats" wording={t("It comes again")} fault={add.of("repeats")}>
              <Select
                id="item-repeats"
                className="full"
                value={v.repeats}
                onChange={(repeats) => setV({ ...v, repeats })}
                options={[
                  { value: "", label: t("never") },
                  { value: "FREQ=DAILY", label: t("every day") },
                  { value: "FREQ=WEEKLY", label: t("every week") },
                  { value: "FREQ=WEEKLY;INTERVAL=2", label: t("every two weeks") },
                  { value: "FREQ=MONTHLY", label: t("every month") },
                  { value: "FREQ=YEARLY", label: t("every year") },
                ]}
              />
            </Labelled>
          )}
        </div>
        <Trouble error={add.problem} />
      </Modal>
    </>
  );
}
