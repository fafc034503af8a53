import { Button, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../shared/api/client";
import { day, local, money, plain } from "../shared/format";
import { Labelled } from "../shared/Labelled";
import { Trouble } from "../shared/Trouble";
import { useChange } from "../shared/useChange";

// Voucher tells whoever has a voucher's code what is left of it.
export function Voucher() {
  const { t } = useTranslation();
  const [code, setCode] = useState("");
  const [voucher, setVoucher] = useState<Schemas["VoucherView"]>();
  const look = useChange({
    send: () => take(api.POST("/api/shop/vouchers", { body: { code } })),
    done: setVoucher,
    refused: () => setVoucher(undefined),
  });
  const fault = look.of("code");
  return (
    <div className="narrow stack">
      <h1>{t("What is left of a voucher")}</h1>
      <form
        className="stack"
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          look.send();
        }}
      >
        <Labelled id="code" wording={t("Code")} help={t("As it stands on the voucher.")} fault={fault}>
          <Input
            id="code"
            value={code}
            maxLength={40}
            autoComplete="off"
            status={fault ? "error" : undefined}
            aria-describedby={fault && "code-fault"}
            onChange={(e) => {
              setCode(e.target.value);
              look.forget("code");
            }}
          />
        </Labelled>
        {!fault && <Trouble error={look.problem} />}
        <div>
          <Button type="primary" htmlType="submit" loading={look.busy} disabled={code.trim() === ""}>
            {t("Look")}
          </Button>
        </div>
      </form>
      {voucher && <Left voucher={voucher} />}
    </div>
  );
}

function Left({ voucher: v }: { voucher: Schemas["VoucherView"] }) {
  const { t } = useTranslation();
  const kinds: Record<Schemas["VoucherEntry"]["kind"], string> = {
    issued: t("sold"),
    used: t("paid with it"),
    returned: t("came back to it"),
    voided: t("its sale was cancelled"),
  };
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const date = (at: string) => day(local(at, here).day, "");
  return (
    <section className="sheet stack" aria-live="polite">
      <div>
        <code>{v.code}</code>
        <div className="voucher-rest num">{money(v.rest, v.currency)}</div>
        <div className="small quiet">
          {t("of {{amount}}", { amount: money(v.worth, v.currency) })}
          {v.until && `, ${t("good until {{day}}", { day: day(v.until, "") })}`}
        </div>
      </div>
      {v.message && <div className="notice bad">{v.message}</div>}
      {v.held > 0 && (
        <p className="small">
          {t("{{amount}} of it are held by a checkout that has begun.", {
            amount: money(v.held, v.currency),
          })}
        </p>
      )}
      <ol className="voucher-entries small">
        {v.entries.map((e, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: entries are only added
          <li key={i} className="slip-line">
            <span>
              {date(e.at)} · {kinds[e.kind]}
            </span>
            <i aria-hidden="true" />
            <span className="num">
              {plain(e.kind === "used" || e.kind === "voided" ? -e.amount : e.amount, v.currency)}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
