import type { PDFDocumentLoadingTask, PDFDocumentProxy, RenderTask } from 'pdfjs-dist';
import { type CSSProperties, useEffect, useRef, useState } from 'react';
import { drawPage, openPdf } from '../shared/pdf-page';
import css from './Pdf.module.css';

/** Pixels on the longer side, before the screen's own density. */
const SIDE = 900;

/** A page of a PDF as it looks. */
export function Preview({ file, page, style }: { file: Blob; page: number; style: CSSProperties }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [problem, setProblem] = useState(false);
  const [opened, setOpened] = useState<PDFDocumentProxy | null>(null);
  useEffect(() => {
    let task: PDFDocumentLoadingTask | null = null;
    let live = true;
    setProblem(false);
    void file.arrayBuffer().then((data) => {
      if (!live) return;
      task = openPdf(data);
      task.promise.then(
        (document) => live && setOpened(document),
        () => live && setProblem(true),
      );
    });
    return () => {
      live = false;
      setOpened(null);
      void task?.destroy();
    };
  }, [file]);
  useEffect(() => {
    if (!opened || !canvas.current) return;
    let drawing: RenderTask | null = null;
    let live = true;
    const surface = canvas.current;
    const draw = async () => {
      drawing = await drawPage(opened, page, SIDE * Math.min(2, devicePixelRatio), surface);
      if (!live) drawing.cancel();
      await drawing.promise;
    };
    // a drawing that is given up ends in an error; a page that cannot be drawn leaves the canvas white
    draw().catch(() => undefined);
    return () => {
      live = false;
      drawing?.cancel();
    };
  }, [opened, page]);
  if (problem)
    return <p className="second">This page cannot be shown; its inks can be changed all the same.</p>;
  return (
    <canvas ref={canvas} className={css.page} style={style} role="img" aria-label={`Page ${page + 1}`} />
  );
}
