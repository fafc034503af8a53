import { Button, Modal } from "antd";
import { lazy, type ReactNode, Suspense, useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { useArrows } from "../useArrows";
import { Marks, type Numbered } from "./Marks";
import { type Address, type HandedFile, type Mark, markable } from "./types";

const Pages = lazy(() => import("./Pages"));

type Props = {
  files: HandedFile[]; // those that can be looked at large
  at: number;
  go: (at: number | undefined) => void;
  address: Address;
  marks?: Mark[];
  add?: (mark: Omit<Mark, "words">) => void;
  beside?: ReactNode;
};

// Look shows files large, one at a time, with the marks on them.
export function Look({ files, at, go, address, marks = [], add, beside }: Props) {
  const { t } = useTranslation();
  const [page, setPage] = useState(1);
  const f = files[at];
  const next = at + 1 < files.length;
  useArrows(at, files.length, go);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another file begins with its first page
  useEffect(() => setPage(1), [at]);
  if (!f) return null;
  const on: Numbered[] = marks
    .map((mark, i) => ({ mark, n: i + 1 }))
    .filter(({ mark }) => mark.file === f.id && (f.shows !== "document" || (mark.page ?? 1) === page));
  const over = (inner: ReactNode) => (
    <Marks
      marks={on}
      add={
        add && markable(f)
          ? (place) => add({ ...place, file: f.id, page: f.shows === "document" ? page : undefined })
          : undefined
      }
    >
      {inner}
    </Marks>
  );
  return (
    <Modal
      open
      width="min(1180px, 96vw)"
      style={{ top: 16 }}
      className="look"
      title={
        <span className="row">
          <span className="file-name">{f.name}</span>
          {files.length > 1 && (
            <span className="small quiet num">
              {at + 1} / {files.length}
            </span>
          )}
        </span>
      }
      onCancel={() => go(undefined)}
      footer={
        <div className="row">
          <Button disabled={at === 0} onClick={() => go(at - 1)}>
            ← {t("Before")}
          </Button>
          <Button disabled={!next} onClick={() => go(at + 1)}>
            {t("Next")} →
          </Button>
          <span className="grow" />
          <a href={address(f, "download")} download={f.name}>
            {t("Save")}
          </a>
          <Button type="primary" onClick={() => go(undefined)}>
            {t("Done")}
          </Button>
        </div>
      }
    >
      <div className={beside ? "look-columns" : undefined}>
        <div className="look-at">
          {f.shows === "picture" && over(<img src={address(f, "view")} alt={f.name} draggable={false} />)}
          {f.shows === "document" && (
            <Suspense fallback={<div className="page-wait" />}>
              <Pages key={f.id} src={address(f, "view")} page={page} turn={setPage} over={over} />
            </Suspense>
          )}
        </div>
        {beside && <div className="stack look-beside">{beside}</div>}
      </div>
    </Modal>
  );
}
