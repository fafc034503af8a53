import { Button, Modal, Spin } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { home } from "../../shared/home";
import { useArrows } from "../../shared/useArrows";

// Cell shows an answer, with thumbnails of its pictures.
export function Cell({ line, cell }: { line: number; cell?: Schemas["AnswerCell"] }) {
  if (!cell) return <span className="quiet">–</span>;
  return (
    <>
      {cell.colour && (
        <svg className="dot" viewBox="0 0 14 14" aria-hidden="true">
          <circle cx="7" cy="7" r="6.5" fill={cell.colour} />
        </svg>
      )}
      <span className="answer-words">{cell.words}</span>
      {cell.files
        ?.filter((f) => f.picture)
        .map((f) => (
          <img
            key={f.file}
            className="answer-thumb"
            src={`${home}/api/desk/dockets/${line}/files/${f.file}?as=thumbnail`}
            alt={f.caption || f.name}
            loading="lazy"
          />
        ))}
    </>
  );
}

type OneProps = {
  // none while it is fetched
  row?: Schemas["AnswerRow"];
  columns: Schemas["AnswerColumn"][];
  at: number;
  of: number;
  go: (at: number | undefined) => void;
};

// OneByOne shows the answers of one order of all, and goes on with the arrow keys.
export function OneByOne({ row, columns, at, of, go }: OneProps) {
  const { t } = useTranslation();
  useArrows(at, of, go);
  return (
    <Modal
      open
      title={row && `${row.number} · ${row.customer}`}
      onCancel={() => go(undefined)}
      footer={
        <div className="row">
          <Button disabled={at === 0} onClick={() => go(at - 1)}>
            ← {t("Before")}
          </Button>
          <span className="grow small quiet num">{t("{{at}} of {{of}}", { at: at + 1, of })}</span>
          {row && <Link to={`/orders/${row.line}`}>{t("Open the order")}</Link>}
          <Button disabled={at + 1 >= of} onClick={() => go(at + 1)}>
            {t("After")} →
          </Button>
        </div>
      }
    >
      {row ? (
        <dl className="brief">
          {columns.map((c) => (
            <div key={c.key}>
              <dt>{c.wording}</dt>
              <dd>
                <Cell line={row.line} cell={row.cells[c.key]} />
              </dd>
            </div>
          ))}
        </dl>
      ) : (
        <Spin />
      )}
    </Modal>
  );
}
