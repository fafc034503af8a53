import { Table, type TableColumnsType } from "antd";

type Props<Row> = { rows: Row[]; columns: TableColumnsType<Row> };

// Rows is a table of the desk: in pages, and sorted by pressing a heading.
export function Rows<Row extends { id: number }>({ rows, columns }: Props<Row>) {
  return (
    <div className="rows">
      <Table
        size="small"
        rowKey="id"
        dataSource={rows}
        columns={columns}
        pagination={{ defaultPageSize: 50, hideOnSinglePage: true, showSizeChanger: true }}
      />
    </div>
  );
}
