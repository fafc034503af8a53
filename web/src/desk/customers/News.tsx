import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";

type Props = { p: Schemas["CustomerPage"]; when: (instant: string) => string };

// News shows for each address of a person whether news may be written there, with all
// that was said about it, and notes what they said elsewhere.
export function News({ p, when }: Props) {
  const { t } = useTranslation();
  const mails = [...new Set([p.email, ...p.news.map((n) => n.email)])];
  return (
    <section className="sheet stack">
      <h3>{t("News by mail")}</h3>
      {mails.map((email) => (
        <OfAddress
          key={email}
          email={email}
          alone={mails.length === 1}
          said={p.news.filter((n) => n.email === email)}
          when={when}
        />
      ))}
    </section>
  );
}

type OfAddressProps = {
  email: string;
  alone: boolean;
  said: Schemas["CustomerNews"][];
  when: Props["when"];
};

function OfAddress({ email, alone, said, when }: OfAddressProps) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const agreed = said[0]?.agreed ?? false;
  const note = useChange({
    send: (yes: boolean) => take(api.PUT("/api/desk/customer/news", { body: { email, agreed: yes } })),
    refreshes: ["customers"],
    done: (p) => queries.setQueryData(["customer", p.email], p),
  });
  return (
    <div>
      <div className="row">
        <strong className="grow">
          {agreed ? t("may be written") : t("not wanted")}
          {!alone && <span className="small quiet"> {email}</span>}
        </strong>
        <Button size="small" loading={note.busy} onClick={() => note.send(!agreed)}>
          {agreed ? t("They want none any more") : t("They agreed elsewhere")}
        </Button>
      </div>
      {said.map((n) => (
        <div key={n.at} className="small quiet">
          {n.agreed
            ? n.version
              ? t("agreed to version {{version}}", { version: n.version })
              : t("agreed elsewhere")
            : t("wants none")}
          , {when(n.at)}
          {n.number !== undefined && (
            <>
              {" · "}
              <Link to={`/orders?text=${n.number}`} className="num">
                {n.number}
              </Link>
            </>
          )}
          {n.by && ` · ${t("noted by {{by}}", { by: n.by })}`}
          {n.agreed && !n.by && !n.proven && ` · ${t("nothing shows yet that the address is theirs")}`}
        </div>
      ))}
      <Trouble error={note.problem} />
    </div>
  );
}
