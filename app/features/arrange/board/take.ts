import type { BoardPage } from '#core/board/index';
import { asPng, canvasOf } from '~/ui/png';

/** A chip of a colour as PNG, with lines of text below it. */
export async function chipPng(hex: string, width: number, lines: string[]): Promise<Uint8Array<ArrayBuffer>> {
  const high = Math.round(width / 1.5);
  const size = Math.max(9, Math.round(width / 16));
  const below = lines.length > 0 ? Math.round(size * (0.6 + 1.35 * lines.length)) : 0;
  const { canvas, context } = canvasOf(width, high + below);
  context.fillStyle = '#fff';
  context.fillRect(0, 0, width, high + below);
  context.fillStyle = hex;
  context.fillRect(0, 0, width, high);
  context.fillStyle = '#161616';
  lines.forEach((line, i) => {
    context.font = `${i === 0 ? 600 : 400} ${size}px "Hanken Grotesk Variable", sans-serif`;
    context.fillText(line, 0, high + size * (1.3 + 1.35 * i), width);
  });
  return asPng(canvas);
}

/** Prints pages in their own size. */
export async function printPages(pages: readonly Blob[], { width, height }: BoardPage): Promise<void> {
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(
    `[data-printed]{display:none}@page{size:${width}mm ${height}mm;margin:0}@media print{body>:not([data-printed]){display:none!important}[data-printed]{display:block}[data-printed] img{display:block;width:${width}mm;height:${height}mm;break-after:page}}`,
  );
  const place = document.createElement('div');
  place.setAttribute('data-printed', '');
  const urls = pages.map((p) => URL.createObjectURL(p));
  for (const url of urls) {
    const image = new Image();
    image.src = url;
    image.alt = '';
    place.append(image);
    await image.decode();
  }
  document.body.append(place);
  document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet];
  // some browsers go on while their dialog is open
  const ended = new Promise((resolve) => addEventListener('afterprint', resolve, { once: true }));
  window.print();
  await ended;
  document.adoptedStyleSheets = document.adoptedStyleSheets.filter((s) => s !== sheet);
  place.remove();
  for (const url of urls) URL.revokeObjectURL(url);
}
