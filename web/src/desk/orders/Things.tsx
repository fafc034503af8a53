import { useQueryClient } from "@tanstack/react-query";
import { Button, Input, Modal, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, local } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";
import { Files } from "./Evidence";

type Props = { d: Schemas["Docket"] };
type Asked = Schemas["ThingAsked"];

// Things are what was asked of this order beside the questions of its product, with the
// way to ask one more.
export function Things({ d }: Props) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const queries = useQueryClient();
  const [asking, setAsking] = useState(false);
  const arrived = (next: Schemas["Docket"]) => queries.setQueryData(["docket", d.line], next);
  const drop = useChange({
    send: (thing: number) => take(api.DELETE("/api/desk/things/{thing}", { params: { path: { thing } } })),
    done: arrived,
  });
  const things = d.things ?? [];
  const when = (at: string) => day(local(at, session.zone).day, today);
  return (
    <section className="things" aria-label={t("One more thing")}>
      {things.length > 0 && (
        <dl className="brief">
          {things.map((x) => (
            <div key={x.id} data-answer={x.question.key}>
              <dt>
                {x.question.wording}
                <span className="quiet small">
                  {" "}
                  {t("asked by {{by}}, {{day}}", { by: x.by, day: when(x.asked) })}
                </span>
              </dt>
              <dd>
                <span className="answer-words grow">
                  {x.words ?? <span className="mark attention">○ {t("not answered yet")}</span>}
                  {x.files && <Files line={d.line} files={x.files} />}
                  {x.was && <span className="quiet small"> {t("before: {{was}}", { was: x.was })}</span>}
                </span>
                <button
                  type="button"
                  className="linkish small"
                  aria-label={t("Take back {{what}}", { what: x.question.wording })}
                  onClick={() => drop.send(x.id)}
                >
                  {t("Take back")}
                </button>
              </dd>
            </div>
          ))}
        </dl>
      )}
      <Trouble error={drop.problem} />
      <Button size="small" onClick={() => setAsking(true)}>
        {t("Ask one more thing …")}
      </Button>
      {asking && <AskThing d={d} arrived={arrived} close={() => setAsking(false)} />}
    </section>
  );
}

type AskProps = Props & { arrived: (d: Schemas["Docket"]) => void; close: () => void };

function AskThing({ d, arrived, close }: AskProps) {
  const { t } = useTranslation();
  const [kind, setKind] = useState<Asked["kind"]>("short_text");
  const [wording, setWording] = useState("");
  const [help, setHelp] = useState("");
  const [choices, setChoices] = useState("");
  const ask = useChange({
    once: true,
    send: () =>
      take(
        api.POST("/api/desk/dockets/{line}/things", {
          params: { path: { line: d.line } },
          body: { kind, wording, help, choices: kind === "one_choice" ? choices.split("\n") : undefined },
        }),
      ),
    done: (next) => {
      arrived(next);
      close();
    },
  });
  const kinds: Record<Asked["kind"], string> = {
    short_text: t("a line of text"),
    long_text: t("a longer text"),
    yes_no: t("yes or no"),
    one_choice: t("one of several"),
    count: t("a number"),
    date: t("a day"),
    files: t("files"),
  };
  return (
    <Modal
      open
      title={t("Ask one more thing")}
      okText={t("Ask {{customer}}", { customer: d.customer })}
      cancelText={t("Leave it")}
      confirmLoading={ask.busy}
      onOk={() => ask.send()}
      onCancel={close}
    >
      <p className="quiet">{t("It is asked of this order alone, on its page, and by mail.")}</p>
      <Labelled id="thing-wording" wording={t("What would you like to know?")} fault={ask.of("wording")}>
        <Input id="thing-wording" value={wording} onChange={(e) => setWording(e.target.value)} />
      </Labelled>
      <Labelled id="thing-kind" wording={t("Answered with")} fault={ask.of("kind")}>
        <Select
          id="thing-kind"
          virtual={false}
          value={kind}
          onChange={setKind}
          options={Object.entries(kinds).map(([value, label]) => ({ value: value as Asked["kind"], label }))}
        />
      </Labelled>
      {kind === "one_choice" && (
        <Labelled id="thing-choices" wording={t("To choose from, one a line")} fault={ask.of("choices")}>
          <Input.TextArea
            id="thing-choices"
            rows={4}
            value={choices}
            onChange={(e) => setChoices(e.target.value)}
          />
        </Labelled>
      )}
      <Labelled id="thing-help" wording={t("Words beside it")} fault={ask.of("help")}>
        <Input id="thing-help" value={help} onChange={(e) => setHelp(e.target.value)} />
      </Labelled>
      <Trouble error={ask.problem} />
    </Modal>
  );
}
