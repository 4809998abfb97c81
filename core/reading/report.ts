import type { Condition } from '../color/index.ts';
import { registerFonts, writeLine } from '../pdf/letters.ts';
import { type Document, documentOf, intend, painter } from '../pdf/paint.ts';
import { Plates } from '../pdf/plates.ts';
import type { LoadFont } from '../services.ts';
import { countingIds, type Swatch } from '../swatch/model.ts';
import { FACTS, factIds, type ReadingData, type Step } from '../swatch/reading.ts';
import type { Face } from '../text/fonts.ts';
import { short } from '../text/text.ts';
import { type Compared, compareInks, toleranceOf } from './compare.ts';
import { levelOfX4 } from './cxf.ts';
import { figuresOf, type InkFigures, toneAt } from './figures.ts';
import { spotWithTints } from './swatches.ts';

// Points: A4 upright.
const PAGE = [595.28, 841.89] as const;
const MARGIN = 48;
const WIDTH = PAGE[0] - 2 * MARGIN;
const ROW = 14;
const FOOT = 60;
const RAMP = 34;
const CHART = 150;

/** A measured ink of a report, with the measurement it is compared with. */
export interface Reported extends ReadingData {
  against?: ReadingData;
}

/** A report of measured inks as PDF: what is known of each, its ramps on plates of its own, charts and tables. */
export async function writeReport(
  readings: readonly Reported[],
  { loadFont, condition }: { loadFont: LoadFont; condition: Condition },
): Promise<Uint8Array<ArrayBuffer>> {
  const { default: Kit } = await import('pdfkit');
  const title = readings.map((r) => r.ink.name).join(', ');
  const { doc, done } = documentOf(Kit, { size: PAGE, bufferPages: true, info: { Title: title } });
  await registerFonts(doc, loadFont, JSON.stringify(readings));
  intend(doc, condition);
  const newId = countingIds('report-');
  const inks = readings.map((r) => spotWithTints(r, newId));
  const paint = painter(doc, condition, new Plates(inks.flat()));
  for (const [i, reading] of readings.entries()) {
    if (i > 0) doc.addPage();
    new InkPages(doc, reading, inks[i]!, paint).draw();
  }
  const { count } = doc.bufferedPageRange();
  for (let i = 0; i < count; i++) {
    doc.switchToPage(i);
    doc.markContent('Artifact', { type: 'Pagination' });
    writeLine(doc, title, 'regular', 7, MARGIN, PAGE[1] - 34, WIDTH - 60);
    writeLine(doc, `${i + 1} / ${count}`, 'mono', 7, PAGE[0] - MARGIN - 40, PAGE[1] - 34, 40, 'right');
    doc.endMarkedContent();
  }
  return done();
}

/** To two places; nothing is not less than nothing. */
const two = (v: number) => v.toFixed(2).replace(/^-(0\.00)$/, '$1');
const percentText = (percent: number) => `${short(percent, 1)} %`;

/** The pages of one ink. */
class InkPages {
  private y = MARGIN;
  private readonly figures: InkFigures;

  constructor(
    private readonly doc: Document,
    private readonly reading: Reported,
    /** The ink and its tints, as swatches. */
    private readonly swatches: readonly Swatch[],
    private readonly paint: (swatch: Swatch) => string,
  ) {
    this.figures = figuresOf(reading.ink);
  }

  draw(): void {
    this.head();
    for (const backing of ['white', 'black'] as const) this.ramp(backing);
    this.y += 16;
    this.charts();
    this.table();
  }

  private line(
    text: string,
    font: Face,
    size: number,
    x: number,
    width: number,
    align: 'left' | 'right' = 'left',
  ): void {
    writeLine(this.doc, text, font, size, x, this.y, width, align);
  }

  /** Goes on on a new page when so much does not fit. */
  private room(height: number): boolean {
    if (this.y + height <= PAGE[1] - FOOT) return false;
    this.doc.addPage();
    this.y = MARGIN;
    return true;
  }

  private head(): void {
    const { ink, facts, from } = this.reading;
    this.line(ink.name, 'semibold', 18, MARGIN, WIDTH);
    this.y += 26;
    this.line(
      `${from} · ${ink.steps.length} patches · ${ink.steps[0]!.spectrum.values.length} bands · ${levelOfX4(ink)}`,
      'regular',
      8,
      MARGIN,
      WIDTH,
    );
    this.y += 20;
    const own = factIds.filter((id) => facts[id]);
    own.forEach((id, i) => {
      const x = MARGIN + (i % 2) * (WIDTH / 2);
      this.line(FACTS[id].label, 'regular', 8, x, 80);
      this.line(facts[id]!, 'semibold', 8, x + 84, WIDTH / 2 - 96);
      if (i % 2 === 1 || i === own.length - 1) this.y += ROW;
    });
    this.y += 12;
  }

  /** The steps over one backing side by side; over white as tints on the ink's own plate. */
  private ramp(backing: Step['backing']): void {
    const steps = this.figures.steps.filter((s) => s.step.backing === backing);
    if (steps.length === 0) return;
    this.room(RAMP + 16);
    const width = WIDTH / steps.length;
    steps.forEach(({ step, lab }, i) => {
      const x = MARGIN + i * width;
      const own =
        backing === 'white' && step.percent > 0
          ? this.swatches.find((s) => (s.tint?.percent ?? 100) === step.percent)
          : undefined;
      const swatch: Swatch = own ?? {
        id: 'x',
        name: '',
        kind: 'process',
        color: { space: 'lab', components: lab },
      };
      this.rect(this.paint(swatch), x, this.y, width, RAMP);
      writeLine(this.doc, short(step.percent, 1), 'mono', 6.5, x + 1, this.y + RAMP + 3, width - 2);
    });
    this.doc.addContent(
      `q 0 0 0 0.25 K 0.3 w ${[MARGIN, this.y, WIDTH, RAMP].map((v) => short(v, 2)).join(' ')} re S Q`,
    );
    writeLine(
      this.doc,
      `over ${backing}`,
      'regular',
      6.5,
      MARGIN + WIDTH - 60,
      this.y + RAMP + 3,
      60,
      'right',
    );
    this.y += RAMP + 16;
  }

  private rect(paint: string, x: number, y: number, w: number, h: number): void {
    this.doc.addContent(`q ${paint} ${[x, y, w, h].map((v) => short(v, 2)).join(' ')} re f Q`);
  }

  private charts(): void {
    this.room(CHART + 40);
    const wide = WIDTH * 0.6;
    const { ink } = this.reading;
    const spectra = ink.steps.map((s) => s.spectrum);
    const first = Math.min(...spectra.map((s) => s.start));
    const last = Math.max(...spectra.map((s) => s.start + s.step * (s.values.length - 1)));
    const most = Math.max(1, ...spectra.flatMap((s) => s.values));
    this.line('Reflectance', 'semibold', 9, MARGIN, wide);
    this.line('Tone value', 'semibold', 9, MARGIN + wide + 30, WIDTH - wide - 30);
    const half = toneAt(this.figures.steps, 50);
    if (half !== null)
      this.line(
        `at 50: ${half >= 50 ? '+' : '−'}${Math.abs(half - 50).toFixed(1)}`,
        'regular',
        7.5,
        MARGIN + wide + 30,
        WIDTH - wide - 30,
        'right',
      );
    this.y += 16;
    const plot = (x: number, width: number, y: number) => (at: readonly [number, number]) =>
      `${short(x + at[0] * width, 2)} ${short(y + (1 - at[1]) * CHART, 2)}`;
    const spectral = plot(MARGIN, wide, this.y);
    const grid = (at: ReturnType<typeof plot>) =>
      [0, 0.25, 0.5, 0.75, 1]
        .map((v) => `q 0 0 0 0.2 K 0.3 w ${at([0, v])} m ${at([1, v])} l S Q`)
        .join('\n');
    this.doc.addContent(grid(spectral));
    for (const { percent, backing, spectrum } of ink.steps) {
      if (backing === 'black' && percent < 100) continue;
      const points = spectrum.values.map((v, i) =>
        spectral([
          (spectrum.start + spectrum.step * i - first) / Math.max(1, last - first),
          Math.max(0, v) / most,
        ]),
      );
      const heavy = percent === 100 && backing === 'white';
      this.doc.addContent(
        `q 0 0 0 ${percent === 100 ? 1 : 0.55} K ${heavy ? 1.6 : 0.6} w ${backing === 'black' ? '[3 2] 0 d' : ''} ${points.map((p, i) => `${p} ${i === 0 ? 'm' : 'l'}`).join(' ')} S Q`,
      );
    }
    const x = MARGIN + wide + 30;
    const tone = plot(x, WIDTH - wide - 30, this.y);
    this.doc.addContent(grid(tone));
    this.doc.addContent(`q 0 0 0 0.4 K 0.5 w [2 2] 0 d ${tone([0, 0])} m ${tone([1, 1])} l S Q`);
    const tones = this.figures.steps.filter((s) => s.step.backing === 'white' && s.toneValue !== null);
    if (tones.length > 1)
      this.doc.addContent(
        `q 0 0 0 1 K 1.2 w ${tones.map((s, i) => `${tone([s.step.percent / 100, Math.min(1.1, s.toneValue! / 100)])} ${i === 0 ? 'm' : 'l'}`).join(' ')} S Q`,
      );
    this.y += CHART + 4;
    this.line(`${first}`, 'mono', 6.5, MARGIN, 60);
    this.line(`${last} nm`, 'mono', 6.5, MARGIN + wide - 60, 60, 'right');
    this.line('0 %', 'mono', 6.5, x, 60);
    this.line('100 % in the file', 'mono', 6.5, PAGE[0] - MARGIN - 90, 90, 'right');
    this.y += 26;
  }

  private table(): void {
    const { ink, facts, against } = this.reading;
    const tolerance = toleranceOf(facts);
    const compared = against ? compareInks(ink, against.ink, 'D50', '2', tolerance) : [];
    const band = this.figures.steps[0]!.density.band;
    const columns: [head: string, width: number, value: (i: number) => string][] = [
      ['tint', 44, (i) => percentText(ink.steps[i]!.percent)],
      ['over', 40, (i) => ink.steps[i]!.backing],
      ['L*', 44, (i) => two(this.figures.steps[i]!.lab[0])],
      ['a*', 44, (i) => two(this.figures.steps[i]!.lab[1])],
      ['b*', 44, (i) => two(this.figures.steps[i]!.lab[2])],
      ['tone value', 56, (i) => this.figures.steps[i]!.toneValue?.toFixed(1) ?? '–'],
      [`D ${band} nm`, 56, (i) => this.figures.steps[i]!.density.value.toFixed(2)],
      ['D status E', 56, (i) => this.figures.steps[i]!.status.E.value.toFixed(2)],
      ...(against
        ? ([
            [
              `${tolerance.metric.name.replace('Δ', 'd')}, max ${short(tolerance.limit, 2)}`,
              90,
              (i) =>
                verdictOf(
                  compared.find(
                    (c) => c.percent === ink.steps[i]!.percent && c.backing === ink.steps[i]!.backing,
                  ),
                ),
            ],
          ] as [string, number, (i: number) => string][])
        : []),
    ];
    const head = () => {
      let x = MARGIN;
      for (const [text, width] of columns) {
        this.line(text, 'semibold', 7.5, x, width - 4, x === MARGIN ? 'left' : 'right');
        x += width;
      }
      this.y += ROW;
    };
    this.room(ROW * 3);
    head();
    ink.steps.forEach((_, i) => {
      if (this.room(ROW)) head();
      let x = MARGIN;
      for (const [, width, value] of columns) {
        this.line(value(i), 'mono', 7.5, x, width - 4, x === MARGIN ? 'left' : 'right');
        x += width;
      }
      this.y += ROW - 2;
    });
    this.y += 8;
    this.room(ROW * 3);
    const { opacity } = this.figures;
    const notes = [
      'Lab for D50 and 2°. Tone values by ISO 20654; densities by ISO 5-3 and ISO 5-4.',
      ...(opacity === null
        ? []
        : [`Opacity of the solid: ${opacity.toFixed(2)} (its Y over black to its Y over white).`]),
      ...(against ? [`Compared with ${against.ink.name}, ${against.facts.date ?? against.from}.`] : []),
    ];
    for (const note of notes) {
      this.line(note, 'regular', 7.5, MARGIN, WIDTH);
      this.y += ROW - 3;
    }
  }
}

const verdictOf = (compared: Compared | undefined): string =>
  compared ? `${compared.difference.toFixed(2)} ${compared.isWithin ? 'passes' : 'fails'}` : '–';
