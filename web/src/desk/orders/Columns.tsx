import { Select } from "antd";
import { useTranslation } from "react-i18next";
import type { Schemas } from "../../shared/api/client";
import { day, local, money } from "../../shared/format";
import { useKept } from "../../shared/useKept";
import { useHere } from "../here";

export type Column = "product" | "total" | "due" | "placed" | "booked" | "work" | "handed";

// useMoreColumns gives which further columns somebody chose for the list of orders.
export function useMoreColumns() {
  return useKept<Column[]>("ruvo.order_columns", []);
}

// useColumns gives the further columns that the list of orders can have.
export function useColumns() {
  const { t } = useTranslation();
  const { session, today } = useHere();
  const on = (at: string) => day(local(at, session.zone).day, today);
  type Row = Schemas["OrderRow"];
  return [
    { key: "product", title: t("Product"), render: (_: unknown, r: Row) => r.title },
    {
      key: "total",
      title: t("Total"),
      align: "right" as const,
      className: "num",
      render: (_: unknown, r: Row) => money(r.total, r.currency),
    },
    {
      key: "due",
      title: t("Open"),
      align: "right" as const,
      className: "num",
      render: (_: unknown, r: Row) => (r.due > 0 ? money(r.due, r.currency) : ""),
    },
    { key: "placed", title: t("Ordered"), render: (_: unknown, r: Row) => on(r.placed) },
    {
      key: "booked",
      title: t("Booked"),
      render: (_: unknown, r: Row) => {
        const [bookedDay, time] = r.booked?.split("T") ?? [];
        return bookedDay ? `${day(bookedDay, today)}, ${time}` : "";
      },
    },
    {
      key: "work",
      title: t("Work left"),
      align: "right" as const,
      className: "num",
      render: (_: unknown, r: Row) => (r.open > 0 ? r.open : ""),
    },
    {
      key: "handed",
      title: t("Handed over"),
      render: (_: unknown, r: Row) => (r.handed ? on(r.handed) : ""),
    },
  ];
}

type Props = { chosen: Column[]; choose: (columns: Column[]) => void };

// MoreColumns chooses which further columns the list of orders has.
export function MoreColumns({ chosen, choose }: Props) {
  const { t } = useTranslation();
  const columns = useColumns();
  return (
    <div className="more-columns">
      <Select
        mode="multiple"
        size="small"
        aria-label={t("More columns")}
        placeholder={t("More columns")}
        maxTagCount={2}
        virtual={false}
        value={chosen}
        onChange={choose}
        options={columns.map((c) => ({ value: c.key as Column, label: c.title }))}
      />
    </div>
  );
}
