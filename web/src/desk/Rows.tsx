import { Table, type TableColumnsType } from "antd";

type Props<Row> = { rows: Row[]; columns: TableColumnsType<Row> };

// Rows is a table of the desk: in pages, and sorted by pressing a heading.
export function Rows<Row extends { id: number }>({ rows, columns }: Props<Row>) {
  return (
    <Table
      className="rows"
      size="small"
      rowKey="id"
      dataSource={rows}
      columns={columns}
      scroll={{ x: "max-content" }}
      pagination={{ defaultPageSize: 50, hideOnSinglePage: true, showSizeChanger: true }}
    />
  );
}
