import { useInfiniteQuery, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Input, Modal } from "antd";
import { useDeferredValue, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Schemas, take } from "../../shared/api/client";
import { day, local, money, plain } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { lost } from "../../shared/lost";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";
import { useHere } from "../here";
import { Rows } from "../Rows";
import { MoneyTabs } from "../Tabs";

type Row = Schemas["VoucherRow"];

// Vouchers lists the vouchers that were sold, with what is left of each and of
// all of them, which is owed to those who have them.
export function Vouchers() {
  const { t } = useTranslation();
  const [typed, setTyped] = useState("");
  const text = useDeferredValue(typed);
  const [left, setLeft] = useState(false);
  const list = useInfiniteQuery({
    queryKey: ["vouchers", text, left],
    queryFn: ({ pageParam }) =>
      take(
        api.GET("/api/desk/vouchers", {
          params: { query: { text: text || undefined, left: left || undefined, before: pageParam } },
        }),
      ),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => last.more,
    placeholderData: (old) => old,
  });
  const sums = list.data?.pages[0]?.sums ?? [];
  const rows = list.data?.pages.flatMap((p) => p.rows) ?? [];
  return (
    <main className="desk-page">
      <h1>{t("Money")}</h1>
      <MoneyTabs />
      <Trouble error={lost(list)} />
      {sums.length > 0 && (
        <dl className="money-now">
          {sums.map((s) => (
            <div key={s.currency}>
              <dt className="small quiet">{t("Left on {{count}} vouchers", { count: s.count })}</dt>
              <dd className="num">{money(s.rest, s.currency)}</dd>
            </div>
          ))}
        </dl>
      )}
      <div className="row entry-filters">
        <Input.Search
          className="voucher-search"
          aria-label={t("Code, order or buyer")}
          placeholder={t("Code, order or buyer")}
          value={typed}
          maxLength={200}
          allowClear
          onChange={(e) => setTyped(e.target.value)}
        />
        <Checkbox checked={left} onChange={(e) => setLeft(e.target.checked)}>
          {t("only with something left")}
        </Checkbox>
      </div>
      {list.data && rows.length === 0 && (
        <div className="empty">
          {text || left
            ? t("There are no such vouchers.")
            : t("Vouchers that are sold will be here. A product becomes one in its price and payment.")}
        </div>
      )}
      {rows.length > 0 && <List rows={rows} />}
      {list.hasNextPage && (
        <Button type="link" loading={list.isFetchingNextPage} onClick={() => list.fetchNextPage()}>
          {t("Show more")}
        </Button>
      )}
    </main>
  );
}

function List({ rows }: { rows: Row[] }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const [blocking, setBlocking] = useState<Row>();
  return (
    <>
      <Rows
        rows={rows}
        by={(v) => v.id}
        pagination={false}
        expandable={{ expandedRowRender: (v: Row) => <Entries id={v.id} /> }}
        columns={[
          {
            title: t("Code"),
            rowScope: "row",
            render: (_, v) => <code>{v.code}</code>,
          },
          { title: t("Sold"), render: (_, v) => day(local(v.sold, session.zone).day, today) },
          {
            title: t("Order"),
            render: (_, v) => <Link to={`/orders/${v.line}`}>{v.number}</Link>,
          },
          { title: t("Buyer"), dataIndex: "buyer" },
          {
            title: t("Worth"),
            align: "right",
            className: "num",
            render: (_, v) => money(v.worth, v.currency),
          },
          { title: t("Left"), align: "right", className: "num", render: (_, v) => money(v.rest, v.currency) },
          { title: t("Good until"), render: (_, v) => (v.until ? day(v.until, today) : t("for ever")) },
          { title: t("State"), render: (_, v) => <State voucher={v} /> },
          {
            title: <span className="sr">{t("Block")}</span>,
            render: (_, v) => (
              <Button size="small" onClick={() => setBlocking(v)}>
                {v.blocked ? t("Let it pay again") : t("Block")}
                <span className="sr"> {v.code}</span>
              </Button>
            ),
          },
        ]}
      />
      {blocking && <Block key={blocking.id} voucher={blocking} done={() => setBlocking(undefined)} />}
    </>
  );
}

function State({ voucher: v }: { voucher: Row }) {
  const { t } = useTranslation();
  return (
    <>
      {v.blocked ? (
        <span className="mark bad">✕ {t("blocked")}</span>
      ) : v.over && v.rest > 0 ? (
        <span className="mark attention">◔ {t("its time is over")}</span>
      ) : v.rest === 0 ? (
        <span className="mark plain">■ {t("used up")}</span>
      ) : (
        <span className="mark good">● {t("pays")}</span>
      )}
      {v.note && <div className="small quiet">{v.note}</div>}
      {v.taxed && <div className="small quiet">{t("sold with {{percent}} % tax", { percent: v.taxed })}</div>}
    </>
  );
}

// Entries tells what happened with a voucher, and by which orders.
function Entries({ id }: { id: number }) {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const voucher = useQuery({
    queryKey: ["vouchers", id],
    queryFn: () => take(api.GET("/api/desk/vouchers/{id}", { params: { path: { id } } })),
  });
  const kinds: Record<Schemas["VoucherEntry"]["kind"], string> = {
    issued: t("sold"),
    used: t("paid with it"),
    returned: t("came back to it"),
    voided: t("its sale was cancelled"),
  };
  if (lost(voucher)) return <Trouble error={voucher.error} />;
  const v = voucher.data;
  if (!v) return null;
  return (
    <ol className="ledger small" aria-label={t("What happened with it")}>
      {v.entries.map((e, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: entries are only added
        <li key={i}>
          <span>{kinds[e.kind]}</span>
          <span className="num">
            {plain(e.kind === "used" || e.kind === "voided" ? -e.amount : e.amount, v.currency)}
          </span>
          <span className="quiet">
            {[
              day(local(e.at, session.zone).day, today),
              e.order && t("order {{number}}", { number: e.order }),
              e.by,
            ]
              .filter(Boolean)
              .join(" · ")}
          </span>
        </li>
      ))}
    </ol>
  );
}

// Block blocks a voucher, or has it pay again.
function Block({ voucher: v, done }: { voucher: Row; done: () => void }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [note, setNote] = useState("");
  const block = useChange({
    once: true,
    send: () =>
      take(
        api.PUT("/api/desk/vouchers/{id}", {
          params: { path: { id: v.id } },
          body: { blocked: !v.blocked, note: note || undefined },
        }),
      ),
    done: () => {
      queries.invalidateQueries({ queryKey: ["vouchers"] });
      done();
    },
  });
  return (
    <Modal
      open
      title={
        v.blocked ? t("Let {{code}} pay again?", { code: v.code }) : t("Block {{code}}?", { code: v.code })
      }
      okText={v.blocked ? t("Let it pay again") : t("Block")}
      cancelText={t("Leave it")}
      confirmLoading={block.busy}
      onOk={() => block.send()}
      onCancel={done}
    >
      <Trouble error={block.problem} />
      {v.blocked ? (
        <p>{t("It pays again with the {{amount}} that are left.", { amount: money(v.rest, v.currency) })}</p>
      ) : (
        <>
          <p>
            {t("It pays no more. The {{amount}} that are left stay on it, and it can pay again later.", {
              amount: money(v.rest, v.currency),
            })}
          </p>
          <Labelled id="block-note" wording={t("Why")}>
            <Input id="block-note" value={note} maxLength={500} onChange={(e) => setNote(e.target.value)} />
          </Labelled>
        </>
      )}
    </Modal>
  );
}
