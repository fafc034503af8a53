import { Table, type TableProps } from "antd";
import type { Key } from "react";

type Props<Row> = Pick<
  TableProps<Row>,
  "columns" | "rowClassName" | "onRow" | "onChange" | "pagination" | "expandable"
> & {
  rows: readonly Row[];
  // what tells one row from the others
  by: (row: Row) => Key;
};

// Rows is a table of the desk: in pages, and sorted by pressing a heading.
export function Rows<Row extends object>({ rows, by, ...table }: Props<Row>) {
  return (
    <div className="rows">
      <Table
        size="small"
        rowKey={by}
        dataSource={rows}
        pagination={{ defaultPageSize: 50, hideOnSinglePage: true, showSizeChanger: true }}
        {...table}
      />
    </div>
  );
}
