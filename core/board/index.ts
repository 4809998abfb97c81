export * from './fonts.ts';
export * from './lay-out.ts';
export * from './marks.ts';
export { boardPdf, type PdfParts } from './pdf.ts';
export * from './study.ts';
export { boardSvg, FAMILIES, HAIRLINE, INKS, isRightToLeft, type SvgDrawing, workKey } from './svg.ts';
export { MM_PER_POINT } from './text.ts';
export { type BoardPicture, type BoardSources, type Thing, thingsOf } from './things.ts';
