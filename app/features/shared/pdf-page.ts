import * as pdfjs from 'pdfjs-dist';

let worker: pdfjs.PDFWorker | undefined;
/** One worker for all documents: one that belongs to a document ends with it, and the next would find it ending. */
function sharedWorker(): pdfjs.PDFWorker {
  worker ??= pdfjs.PDFWorker.create({
    port: new Worker(new URL('pdfjs-dist/build/pdf.worker.min.mjs', import.meta.url), { type: 'module' }),
  });
  return worker;
}

/** Opens a PDF to be looked at; nothing in it is run or followed. Its task is destroyed when it is not needed any more. */
export const openPdf = (data: ArrayBuffer): pdfjs.PDFDocumentLoadingTask =>
  pdfjs.getDocument({
    data,
    worker: sharedWorker(),
    // fonts are drawn as shapes, so that no style sheet is needed
    disableFontFace: true,
    isEvalSupported: false,
    enableXfa: false,
  });

/** Draws a page into a canvas, so large that its longer side has a number of pixels. */
export async function drawPage(
  document: pdfjs.PDFDocumentProxy,
  page: number,
  side: number,
  canvas: HTMLCanvasElement,
): Promise<pdfjs.RenderTask> {
  const shown = await document.getPage(page + 1);
  const plain = shown.getViewport({ scale: 1 });
  const viewport = shown.getViewport({ scale: side / Math.max(plain.width, plain.height) });
  canvas.width = Math.max(1, Math.round(viewport.width));
  canvas.height = Math.max(1, Math.round(viewport.height));
  return shown.render({ canvas, viewport, annotationMode: pdfjs.AnnotationMode.ENABLE });
}

/** A page of a PDF as PNG. @param side pixels on the longer side */
export async function pagePicture(file: Blob, page: number, side: number): Promise<Blob> {
  const task = openPdf(await file.arrayBuffer());
  try {
    const canvas = globalThis.document.createElement('canvas');
    await (await drawPage(await task.promise, page, side, canvas)).promise;
    const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
    if (!blob) throw new Error('the page is too large for this browser.');
    return blob;
  } finally {
    void task.destroy();
  }
}
