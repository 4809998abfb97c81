import * as pdfjs from 'pdfjs-dist';
import { useEffect, useRef, useState } from 'react';
import css from './Pdf.module.css';

/** Pixels on the longer side, before the screen's own density. */
const SIDE = 620;

let worker: pdfjs.PDFWorker | undefined;
/** One worker for all documents: one that belongs to a document ends with it, and the next would find it ending. */
function sharedWorker(): pdfjs.PDFWorker {
  worker ??= pdfjs.PDFWorker.create({
    port: new Worker(new URL('pdfjs-dist/build/pdf.worker.min.mjs', import.meta.url), { type: 'module' }),
  });
  return worker;
}

/** A page of a PDF as it looks; nothing in it is run or followed. */
export function Preview({ file, page }: { file: Blob; page: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [problem, setProblem] = useState(false);
  const [opened, setOpened] = useState<pdfjs.PDFDocumentProxy | null>(null);
  useEffect(() => {
    let task: pdfjs.PDFDocumentLoadingTask | null = null;
    let live = true;
    setProblem(false);
    void file.arrayBuffer().then((data) => {
      if (!live) return;
      // fonts are drawn as shapes, so that no style sheet is needed
      task = pdfjs.getDocument({
        data,
        worker: sharedWorker(),
        disableFontFace: true,
        isEvalSupported: false,
        enableXfa: false,
      });
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
    let drawing: pdfjs.RenderTask | null = null;
    let live = true;
    const surface = canvas.current;
    const draw = async () => {
      const shown = await opened.getPage(page + 1);
      if (!live) return;
      const plain = shown.getViewport({ scale: 1 });
      const scale = (SIDE * Math.min(2, devicePixelRatio)) / Math.max(plain.width, plain.height);
      const viewport = shown.getViewport({ scale });
      surface.width = Math.round(viewport.width);
      surface.height = Math.round(viewport.height);
      drawing = shown.render({ canvas: surface, viewport, annotationMode: pdfjs.AnnotationMode.ENABLE });
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
  return <canvas ref={canvas} className={css.page} role="img" aria-label={`Page ${page + 1}`} />;
}
