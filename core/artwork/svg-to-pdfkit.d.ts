// The part of svg-to-pdfkit that is used; it has no types of its own.
declare module 'svg-to-pdfkit' {
  type Paint = [color: number[] | string, opacity: number];
  export default function SVGtoPDF(
    doc: unknown,
    svg: string,
    x: number,
    y: number,
    options: {
      width: number;
      height: number;
      assumePt: boolean;
      preserveAspectRatio?: string;
      precision: number;
      colorCallback(paint: Paint | undefined, raw?: string): Paint | undefined;
      fontCallback(
        family: string,
        bold: boolean,
        italic: boolean,
        options: { fauxBold?: boolean; fauxItalic?: boolean },
      ): string;
      warningCallback(text: string): void;
    },
  ): void;
}
