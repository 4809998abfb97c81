export * from './fonts.ts';
export * from './lay-out.ts';
export * from './marks.ts';
export { boardPdf } from './pdf.ts';
export * from './study.ts';
export { boardSvg, HAIRLINE, INKS, isRightToLeft, type SvgDrawing, workKey } from './svg.ts';
export { MM_PER_POINT } from './text.ts';
export { type BoardPicture, type BoardSources, thingsOf } from './things.ts';
