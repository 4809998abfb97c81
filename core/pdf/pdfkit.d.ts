// The part of pdfkit that the sheet uses; its own types need Node's, which core is checked without.
declare module 'pdfkit' {
  export interface PdfReference {
    end(data?: Uint8Array): void;
    toString(): string;
    /** Its dictionary, while it is being made. */
    data: Record<string, unknown>;
  }
  export interface PdfPage {
    width: number;
    height: number;
    colorSpaces: Record<string, PdfReference>;
    readonly ext_gstates: Record<string, PdfReference>;
    readonly dictionary: PdfReference;
  }
  export interface PdfGradient {
    stop(at: number, color: number[] | string): this;
  }
  export default class PDFDocument {
    constructor(options: Record<string, unknown>);
    page: PdfPage;
    readonly _root: PdfReference;
    push(chunk: Uint8Array | null): boolean;
    addPage(options?: Record<string, unknown>): this;
    bufferedPageRange(): { start: number; count: number };
    switchToPage(n: number): PdfPage;
    ref(data?: unknown): PdfReference;
    addContent(text: string): this;
    registerFont(name: string, source: Uint8Array): this;
    font(name: string): this;
    fontSize(size: number): this;
    fillColor(color: number[] | string, opacity?: number): this;
    strokeColor(color: number[] | string, opacity?: number): this;
    fillOpacity(opacity: number): this;
    strokeOpacity(opacity: number): this;
    _font: { ascender: number; font: import('fontkit').Font };
    widthOfString(text: string, options?: { features?: readonly string[] }): number;
    text(text: string, x: number, y: number, options?: Record<string, unknown>): this;
    rect(x: number, y: number, w: number, h: number): this;
    fill(color?: unknown): this;
    on(event: 'data', take: (part: Uint8Array) => void): this;
    on(event: 'end', take: () => void): this;
    linearGradient(x1: number, y1: number, x2: number, y2: number): PdfGradient;
    pattern(box: number[], xStep: number, yStep: number, content: string): unknown;
    save(): this;
    restore(): this;
    markContent(tag: string, options: Record<string, unknown>): this;
    endMarkedContent(): this;
    end(): void;
  }
}
