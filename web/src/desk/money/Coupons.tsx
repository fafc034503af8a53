import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Schemas, take } from "../../shared/api/client";
import { digits } from "../../shared/currency";
import { plain } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { lost } from "../../shared/lost";
import { MoneyBox, WholeBox } from "../../shared/questions/boxes";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { PortionBox } from "../PortionBox";
import { Rows } from "../Rows";
import { MoneyTabs } from "../Tabs";

const queryKey = ["coupons"];

// Coupons lists the coupons and makes new ones, one by one or many at once.
export function Coupons() {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [adding, setAdding] = useState(false);
  const coupons = useQuery({ queryKey, queryFn: () => take(api.GET("/api/desk/coupons")) });
  const terms = useQuery({ queryKey: ["terms"], queryFn: () => take(api.GET("/api/desk/terms")) });
  const turn = useChange({
    send: (c: Schemas["CouponRow"]) =>
      take(
        api.POST("/api/desk/coupons/{id}/{action}", {
          params: { path: { id: c.id, action: c.off ? "on" : "off" } },
        }),
      ),
    done: (rows) => queries.setQueryData(queryKey, rows),
  });
  if (lost(coupons)) return <Trouble error={coupons.error} again={() => coupons.refetch()} />;
  const currency = terms.data?.currency ?? "EUR";
  return (
    <main className="desk-page">
      <div className="row">
        <h1 className="grow">{t("Money")}</h1>
        <Button type="primary" onClick={() => setAdding(!adding)}>
          {adding ? t("Close") : t("Make coupons")}
        </Button>
      </div>
      <MoneyTabs />
      {adding && terms.data && (
        <Make
          own={currency}
          further={(terms.data.further ?? []).map((f) => f.currency)}
          done={() => setAdding(false)}
        />
      )}
      <Trouble error={turn.problem} />
      {coupons.data?.length === 0 && (
        <div className="empty">{t("Coupons will be here: codes that take something off an order.")}</div>
      )}
      {coupons.data && coupons.data.length > 0 && (
        <Rows
          rows={coupons.data}
          by={(c) => c.id}
          columns={[
            {
              title: t("Code"),
              rowScope: "row",
              sorter: (a, b) => a.coupon.code.localeCompare(b.coupon.code),
              render: (_, c) => (
                <>
                  <code>{c.coupon.code}</code>
                  {c.coupon.label && <div className="small quiet">{c.coupon.label}</div>}
                </>
              ),
            },
            { title: t("What it does"), dataIndex: "says" },
            {
              title: t("Used"),
              align: "right",
              sorter: (a, b) => a.used - b.used,
              render: (_, c) => (
                <>
                  {c.most_uses > 0 ? t("{{used}} of {{most}}", { used: c.used, most: c.most_uses }) : c.used}
                  {c.held > 0 && <div className="small quiet">{t("{{count}} held", { count: c.held })}</div>}
                  {c.most_each > 0 && (
                    <div className="small quiet">{t("{{count}} each", { count: c.most_each })}</div>
                  )}
                </>
              ),
            },
            {
              title: t("Took off"),
              align: "right",
              sorter: (a, b) => a.given - b.given,
              render: (_, c) =>
                c.given > 0 && <span className="num">{plain(c.given, c.coupon.currency ?? currency)}</span>,
            },
            {
              title: t("State"),
              filters: [
                { text: t("on"), value: false },
                { text: t("off"), value: true },
              ],
              onFilter: (off, c) => c.off === off,
              render: (_, c) =>
                c.off ? (
                  <span className="mark plain">■ {t("off")}</span>
                ) : (
                  <span className="mark good">● {t("on")}</span>
                ),
            },
            {
              title: <span className="sr">{t("Switch")}</span>,
              render: (_, c) => (
                <Button size="small" onClick={() => turn.send(c)}>
                  {c.off ? t("Switch on") : t("Switch off")}
                  <span className="sr"> {c.coupon.code}</span>
                </Button>
              ),
            },
          ]}
        />
      )}
    </main>
  );
}

function Make({ own, further, done }: { own: string; further: string[]; done: () => void }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const products = useQuery({ queryKey: ["products"], queryFn: () => take(api.GET("/api/desk/products")) });
  const [coupon, setCoupon] = useState<Schemas["Coupon"]>({ code: "", percent: "10" });
  const [most, setMost] = useState<{ uses?: number; each?: number; many?: number }>({});
  const set = (part: Partial<Schemas["Coupon"]>) => setCoupon((old) => ({ ...old, ...part }));
  const make = useChange({
    once: true,
    send: () =>
      take(
        api.POST("/api/desk/coupons", {
          body: { coupon, most_uses: most.uses ?? 0, most_each: most.each ?? 0, many: most.many },
        }),
      ),
    done: (rows) => {
      queries.setQueryData(queryKey, rows);
      done();
    },
  });
  const { of } = make;
  const currency = coupon.currency ?? own;
  const places = digits(currency);
  return (
    <form
      className="sheet make"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        make.send();
      }}
    >
      <h2>{t("Make coupons")}</h2>
      <Trouble error={make.problem} />
      <div className="pair">
        <Labelled
          id="code"
          wording={t("Code")}
          help={t("Capital letters, digits and hyphens.")}
          fault={of("coupon.code") ?? of("coupon")}
        >
          <Input
            id="code"
            className="code"
            value={coupon.code}
            maxLength={40}
            onChange={(e) => set({ code: e.target.value.toUpperCase() })}
          />
        </Labelled>
        <Labelled id="coupon-label" wording={t("On the slip as")}>
          <Input
            id="coupon-label"
            value={coupon.label ?? ""}
            onChange={(e) => set({ label: e.target.value || undefined })}
          />
        </Labelled>
        {further.length > 0 && (
          <Labelled
            id="coupon-currency"
            wording={t("Its amounts are in")}
            help={t("Per cent without a least order holds in all.")}
            fault={of("coupon.currency")}
          >
            <Select
              id="coupon-currency"
              value={currency}
              onChange={(c) => set({ currency: c === own ? undefined : c })}
              options={[own, ...further].map((c) => ({ value: c, label: c }))}
            />
          </Labelled>
        )}
        <Labelled id="coupon-rate" wording={t("Takes off")}>
          <PortionBox
            id="coupon-rate"
            value={coupon}
            change={setCoupon}
            digits={places}
            currency={currency}
            amount={t("an amount")}
            percent={t("per cent")}
            fresh={{ amount: 500, percent: "10" }}
          />
        </Labelled>
        <Labelled id="coupon-products" wording={t("For which products")} help={t("Empty is all.")}>
          <Select
            id="coupon-products"
            mode="multiple"
            value={coupon.products ?? []}
            onChange={(v: number[]) => set({ products: v.length > 0 ? v : undefined })}
            options={(products.data ?? []).map((p) => ({ value: p.id, label: p.title }))}
          />
        </Labelled>
        <Labelled id="coupon-from" wording={t("First day")}>
          <input
            id="coupon-from"
            type="date"
            className="plain-field"
            value={coupon.from ?? ""}
            onChange={(e) => set({ from: e.target.value || undefined })}
          />
        </Labelled>
        <Labelled id="coupon-to" wording={t("Last day")}>
          <input
            id="coupon-to"
            type="date"
            className="plain-field"
            value={coupon.to ?? ""}
            onChange={(e) => set({ to: e.target.value || undefined })}
          />
        </Labelled>
        <Labelled id="coupon-least" wording={t("From an order of")}>
          <MoneyBox
            id="coupon-least"
            digits={places}
            prefix={currency}
            value={coupon.least_order}
            onChange={(least_order) => set({ least_order })}
          />
        </Labelled>
        <Labelled id="coupon-uses" wording={t("Uses in all")} help={t("Empty is as often as you like.")}>
          <WholeBox
            id="coupon-uses"
            value={most.uses}
            onChange={(uses) => setMost((old) => ({ ...old, uses }))}
          />
        </Labelled>
        <Labelled id="coupon-each" wording={t("Uses of one customer")}>
          <WholeBox
            id="coupon-each"
            value={most.each}
            onChange={(each) => setMost((old) => ({ ...old, each }))}
          />
        </Labelled>
        <Labelled
          id="coupon-many"
          wording={t("So many codes at once")}
          help={t("Each is the code above with letters of its own; empty is one.")}
          fault={of("many")}
        >
          <WholeBox
            id="coupon-many"
            value={most.many}
            onChange={(many) => setMost((old) => ({ ...old, many }))}
          />
        </Labelled>
      </div>
      <Checkbox
        checked={coupon.combines ?? false}
        onChange={(e) => set({ combines: e.target.checked || undefined })}
      >
        {t("can be used beside others")}
      </Checkbox>
      <div className="row">
        <Button type="primary" htmlType="submit" loading={make.busy} disabled={coupon.code === ""}>
          {most.many ? t("Make {{count}} coupons", { count: most.many }) : t("Make it")}
        </Button>
      </div>
    </form>
  );
}
