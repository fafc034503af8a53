import { Button } from "antd";
import type { PDFDocumentProxy } from "pdfjs-dist";
import { GlobalWorkerOptions, getDocument } from "pdfjs-dist";
import worker from "pdfjs-dist/build/pdf.worker.min.mjs?url";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";

GlobalWorkerOptions.workerSrc = worker;

type Props = {
  src: string;
  page: number;
  turn: (page: number) => void;
  // what lies over a page
  over: (page: ReactNode) => ReactNode;
};

// Pages reads a document in the page, a page at a time. Nothing that is written in it
// is run.
export default function Pages({ src, page, turn, over }: Props) {
  const { t } = useTranslation();
  const [doc, setDoc] = useState<PDFDocumentProxy>();
  const [broken, setBroken] = useState(false);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const loading = getDocument({ url: src, isEvalSupported: false, enableXfa: false });
    loading.promise.then(setDoc, () => setBroken(true));
    return () => void loading.destroy();
  }, [src]);
  useEffect(() => {
    const to = canvas.current;
    if (!doc || !to) return;
    let gone = false;
    let stop = () => {};
    doc.getPage(page).then(
      (p) => {
        if (gone) return;
        const wide = p.getViewport({ scale: 1 }).width;
        const viewport = p.getViewport({ scale: 1400 / wide });
        to.width = viewport.width;
        to.height = viewport.height;
        const context = to.getContext("2d");
        if (!context) return;
        const task = p.render({ canvasContext: context, viewport });
        stop = () => task.cancel();
        task.promise.then(
          () => {
            to.dataset.drawn = String(page);
          },
          () => {},
        );
      },
      () => setBroken(true),
    );
    return () => {
      gone = true;
      stop();
    };
  }, [doc, page]);
  if (broken)
    return <div className="empty">{t("This document cannot be shown here. Save it to read it.")}</div>;
  return (
    <div className="pages">
      {over(<canvas ref={canvas} className="page" aria-label={t("Page {{page}}", { page })} role="img" />)}
      {doc && doc.numPages > 1 && (
        <div className="row pages-turn">
          <Button
            size="small"
            disabled={page <= 1}
            aria-label={t("Page before")}
            onClick={() => turn(page - 1)}
          >
            ←
          </Button>
          <span className="small num">{t("Page {{page}} of {{pages}}", { page, pages: doc.numPages })}</span>
          <Button
            size="small"
            disabled={page >= doc.numPages}
            aria-label={t("Page after")}
            onClick={() => turn(page + 1)}
          >
            →
          </Button>
        </div>
      )}
    </div>
  );
}
