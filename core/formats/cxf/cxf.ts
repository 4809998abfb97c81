import {
  adaptedXyz,
  type Color,
  type Condition,
  carried,
  profileNamed,
  SHIPPED,
  toLab,
  toRgb8,
  type White,
  whiteNamed,
  xyYToXyz,
  xyz50ToLab,
} from '../../color/index.ts';
import { optionOf } from '../../options.ts';
import { spectrumToLab } from '../../spectral/index.ts';
import { isLoose, KINDS, type Spectrum, type Swatch } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { plural, writeText } from '../../text/text.ts';
import { childOf, elements, escapeXml, parseXml, rootIs, type XmlNode } from '../../text/xml.ts';
import { commentLines, commentsOption } from '../comments.ts';
import { type Draft, xmlDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

const NAMESPACE = 'http://colorexchangeformat.com/CxF3-core';

/** The elements of colours: their parts in our order, what 1 inside is outside, and where they stand. The first of several counts most. */
const VALUES: {
  element: string;
  space: Color['space'];
  parts: string[];
  factor: number;
  /** A device's numbers have a place of their own (ISO 17972-1). */
  device?: true;
  /** Numbers that become those of the space when their white is known. */
  from?: (v: number[]) => Triple;
}[] = [
  { element: 'ColorCIELab', space: 'lab', parts: ['L', 'A', 'B'], factor: 1 },
  { element: 'ColorCIELCh', space: 'lch', parts: ['L', 'C', 'H'], factor: 1 },
  {
    element: 'ColorCIEXYZ',
    space: 'lab',
    parts: ['X', 'Y', 'Z'],
    factor: 100,
    from: (v) => v as Triple,
  },
  {
    element: 'ColorCIExyY',
    space: 'lab',
    parts: ['x', 'y', 'Y'],
    factor: 1,
    from: xyYToXyz,
  },
  {
    element: 'ColorCMYK',
    space: 'cmyk',
    parts: ['Cyan', 'Magenta', 'Yellow', 'Black'],
    factor: 100,
    device: true,
  },
  {
    element: 'ColorCMYKPlusN',
    space: 'cmyk',
    parts: ['Cyan', 'Magenta', 'Yellow', 'Black'],
    factor: 100,
    device: true,
  },
  { element: 'ColorSRGB', space: 'rgb', parts: ['R', 'G', 'B'], factor: 255 },
  { element: 'ColorRGB', space: 'rgb', parts: ['R', 'G', 'B'], factor: 255, device: true },
];
type Triple = [number, number, number];

function numberIn(node: XmlNode | undefined, what: string): number {
  const value = Number(node?.text.trim() || Number.NaN);
  if (!Number.isFinite(value))
    throw new FormatError(
      `line ${node?.line ?? '?'}: ${what} “${(node?.text ?? '').trim().slice(0, 40)}” is not a number.`,
    );
  return value;
}

export const cxf: PlainFormat = {
  id: 'cxf',
  name: 'CxF',
  about:
    'XML of colour measurement and print (ISO 17972-1, for spot inks -4). Keeps names, Lab, CMYK, spectra and notes.',
  endings: ['cxf', 'xml'],
  mime: 'application/xml',
  options: [commentsOption],
  traits: {
    read: true,
    write: true,
    names: true,
    groups: false,
    kinds: [],
    spaces: ['lab', 'cmyk', 'rgb'],
    bits: 64,
  },

  recognise: (bytes) => (rootIs(bytes, 'CxF') ? 1 : 0),

  ownWords: true,
  decode: xmlDecoder((text, draft, options) => {
    let last = '';
    const without: string[] = [];
    // what the spectra are sampled at may stand behind them
    const pending: Pending[] = [];
    const labs: Stated[] = [];
    const root = parseXml(text, {
      each: {
        name: 'Object',
        take(object) {
          const tags: Map<string, string> = options?.asOthers ? new Map() : tagsOf(object);
          draft.attempt(() => {
            const swatch = readObject(object, tags, pending, labs);
            if (!swatch) {
              without.push(object.attributes.Name || object.attributes.Id || `line ${object.line}`);
              return;
            }
            const group = tags.get('Group') ?? '';
            if (group !== last || tags.has('New group')) draft.enter(group);
            last = group;
            draft.add(swatch);
          });
        },
      },
    });
    draft.name = [...elements(root, 'FileInformation')]
      .map((info) => childOf(info, 'Description')?.text.trim() ?? '')
      .join('');
    settleSpectra(root, pending);
    settleWhites(root, labs, draft);
    warnWithout(without, draft);
  }),

  encode(library, { condition, now = UNKNOWN_DATE }, options) {
    const comments = optionOf(cxf, options, 'comments') ? commentLines(library) : new Map<string, string[]>();
    const grids: Spectrum[] = [];
    const whites = new Set<White>();
    const specId = ({ start, step }: Spectrum) => {
      const known = grids.findIndex((g) => g.start === start && g.step === step);
      return `S${known >= 0 ? known : grids.push({ start, step, values: [] }) - 1}`;
    };
    let n = 0;
    const objects = library.groups.flatMap((group) =>
      group.swatches.map((s, i) =>
        objectOf(
          s,
          ++n,
          isLoose(library, group) ? null : { name: group.name, first: i === 0 },
          specId,
          whites,
          condition,
          now,
          comments.get(s.id),
        ),
      ),
    );
    const spectral = grids.map(
      ({ start, step }, i) =>
        `   <cc:ColorSpecification Id="S${i}"><cc:TristimulusSpec><cc:Illuminant>D50</cc:Illuminant><cc:Observer>2_Degree</cc:Observer><cc:Method>E308_1nm</cc:Method></cc:TristimulusSpec><cc:MeasurementSpec><cc:MeasurementType>Spectrum_Reflectance</cc:MeasurementType><cc:WavelengthRange StartWL="${start}" Increment="${step}"/></cc:MeasurementSpec></cc:ColorSpecification>\n`,
    );
    return writeText(
      `<?xml version="1.0" encoding="UTF-8"?>\n<cc:CxF xmlns:cc="${NAMESPACE}">\n <cc:FileInformation><cc:Creator>Papillon</cc:Creator><cc:CreationDate>${now}</cc:CreationDate><cc:Description>${escapeXml(library.name)}</cc:Description></cc:FileInformation>\n <cc:Resources>\n  <cc:ObjectCollection>\n${objects.join('')}  </cc:ObjectCollection>\n  <cc:ColorSpecificationCollection>\n   <cc:ColorSpecification Id="D50"><cc:TristimulusSpec><cc:Illuminant>D50</cc:Illuminant><cc:Observer>2_Degree</cc:Observer></cc:TristimulusSpec></cc:ColorSpecification>\n${deviceSpec(condition)}${[...whites].map(whiteSpec).join('')}${spectral.join('')}  </cc:ColorSpecificationCollection>\n </cc:Resources>\n</cc:CxF>\n`,
    );
  },
};

/** Where nobody tells the time; the element must be there. */
const UNKNOWN_DATE = '1980-01-01T00:00:00Z';

/** The elements that are written, one for each space. */
const WRITTEN = VALUES.filter((v) => ['ColorCIELab', 'ColorCMYK', 'ColorSRGB'].includes(v.element));
const DEVICE_SPEC = 'Device';

const part = (element: string, content: string[]) =>
  content.length > 0 ? `<cc:${element}>${content.join('')}</cc:${element}>` : '';

const specOf = (white?: White) => (white ? white.replace('/', '-') : 'D50');
/** What inks are for, by the name it is registered under; the element is from memory. */
function deviceSpec({ setting }: Condition): string {
  const registered = { [SHIPPED.coated]: 'FOGRA39', [SHIPPED.uncoated]: 'FOGRA29' }[setting.profile];
  return `   <cc:ColorSpecification Id="${DEVICE_SPEC}"${registered ? ` Name="${registered}"` : ''}/>\n`;
}

function whiteSpec(white: White): string {
  const [illuminant, observer] = white.split('/');
  return `   <cc:ColorSpecification Id="${specOf(white)}"><cc:TristimulusSpec><cc:Illuminant>${illuminant}</cc:Illuminant><cc:Observer>${observer}_Degree</cc:Observer></cc:TristimulusSpec></cc:ColorSpecification>\n`;
}

/** Tells which samples had no colour that can be kept. */
export function warnWithout(names: string[], draft: Draft): void {
  if (names.length === 0) return;
  const list = names.slice(0, 5).join(', ');
  draft.warn(
    `${plural(names.length, 'entry has', 'entries have')} no colour values that Papillon reads and could not be kept: ${list}${names.length > 5 ? '…' : ''}.`,
  );
}

const tagsOf = (object: XmlNode) =>
  new Map(
    [...elements(object, 'Tag')].map(({ attributes }) => [attributes.Name ?? '', attributes.Value ?? '']),
  );

interface Pending {
  spectrum: Spectrum;
  color: Color | null;
  specification: string;
  where: string;
}

/** Fills in where each spectrum begins and its step, and the colour of those that are only measured. */
function settleSpectra(root: XmlNode, pending: Pending[]): void {
  const grids = new Map<string, { start: number; step: number }>();
  for (const spec of elements(root, 'ColorSpecification')) {
    const [range] = elements(spec, 'WavelengthRange');
    const [start, step] = [Number(range?.attributes.StartWL), Number(range?.attributes.Increment)];
    if (Number.isFinite(start) && step > 0) grids.set(spec.attributes.Id ?? '', { start, step });
  }
  for (const { spectrum, color, specification, where } of pending) {
    const grid = grids.get(specification);
    if (!Number.isFinite(spectrum.start)) spectrum.start = grid?.start ?? Number.NaN;
    if (!(spectrum.step > 0)) spectrum.step = grid?.step ?? 10;
    if (!Number.isFinite(spectrum.start))
      throw new FormatError(`${where} cannot be read: its first wavelength is missing.`);
    if (color) color.components = spectrumToLab(spectrum);
  }
}

/** A colour whose illuminant and observer its specification tells. */
interface Stated {
  color: Color;
  specification: string;
  xyz?: Triple;
}

/** Lab keeps what its specification says it is for; inks the print condition that one names. */
function settleWhites(root: XmlNode, labs: readonly Stated[], draft: Draft): void {
  const whites = new Map<string, White | undefined | null>();
  for (const spec of elements(root, 'ColorSpecification')) {
    const text = (name: string) => [...elements(spec, name)][0]?.text ?? '';
    const [illuminant, observer] = [text('Illuminant'), text('Observer').replaceAll('_', ' ')];
    const known = illuminant || observer ? whiteNamed(illuminant || 'D50', observer || '2') : undefined;
    whites.set(spec.attributes.Id ?? '', known);
    draft.inks ??= profileNamed(
      [
        spec.attributes.Id ?? '',
        spec.attributes.Name ?? '',
        text('PrintCondition'),
        text('CharacterizationData'),
      ].join(' '),
    );
  }
  const said = new Set<string>();
  for (const { color, specification, xyz } of labs) {
    const white = whites.get(specification);
    // XYZ is brought to D50 by itself; Lab keeps its numbers, and what they are for
    if (xyz) color.components = xyz50ToLab(white ? adaptedXyz(xyz, white) : xyz);
    else if (white) color.white = white;
    if (white === undefined || said.has(specification)) continue;
    said.add(specification);
    draft.warn(
      white
        ? `Lab for ${white}° is adapted to D50 and 2° where it is shown.`
        : `The specification “${specification.slice(0, 60)}” is for an illuminant or observer Papillon does not know; its Lab was taken for D50 and 2°.`,
    );
  }
}

function readObject(
  object: XmlNode,
  tags: Map<string, string>,
  pending: Pending[],
  labs: Stated[],
): Omit<Swatch, 'id'> | null {
  const values = childOf(object, 'ColorValues');
  const devices = childOf(object, 'DeviceColorValues');
  const called = `“${object.attributes.Name ?? ''}”`;
  const colors: Color[] = [];
  const stated: Stated[] = [];
  for (const { element, space, parts, factor, from } of VALUES) {
    // older files have a device's numbers among the others
    const node = childOf(values, element) ?? childOf(devices, element);
    if (!node || colors.some((c) => c.space === space)) continue;
    const max = space === 'rgb' ? Number(node.attributes.MaxRange) || factor : factor;
    const numbers = parts.map((p) => numberIn(childOf(node, p) ?? node, `${p} of ${called}`) / max);
    const xyz = from?.(numbers);
    const color: Color = { space, components: xyz ? xyz50ToLab(xyz) : numbers };
    colors.push(color);
    if (space === 'lab' || space === 'lch')
      stated.push({
        color,
        specification: node.attributes.ColorSpecification ?? '',
        ...(xyz ? { xyz } : {}),
      });
  }
  const measured = childOf(values, 'ReflectanceSpectrum');
  const spectrum = measured && readSpectrum(measured, called);
  const onlyMeasured: Color | null =
    colors.length === 0 && spectrum ? { space: 'lab', components: [0, 0, 0] } : null;
  if (onlyMeasured) colors.push(onlyMeasured);
  if (measured && spectrum)
    pending.push({
      spectrum,
      color: onlyMeasured,
      specification: measured.attributes.ColorSpecification ?? '',
      where: `line ${measured.line}: the spectrum of ${called}`,
    });
  labs.push(...stated);
  // our own files say which of several values was the authored one
  const own = colors.find((c) => c.space === tags.get('Space'));
  const color = own ?? colors[0];
  if (!color) return null;
  const alternates = colors.filter((c) => c !== color);
  const [code, role, alpha] = ['Code', 'Role', 'Alpha'].map((t) => tags.get(t));
  const note = childOf(object, 'Comment')?.text || tags.get('Note');
  const ink = tags.get('Tint of');
  const percent = Number(tags.get('Tint') ?? Number.NaN);
  return {
    name: object.attributes.Name ?? '',
    kind:
      KINDS.find((k) => k === tags.get('Kind')) ??
      (colors.some((c) => c.space !== 'cmyk' && c.space !== 'rgb') ? 'spot' : 'process'),
    color,
    ...(alternates.length > 0 ? { alternates } : {}),
    ...(spectrum ? { spectrum } : {}),
    ...(code ? { code } : {}),
    ...(role ? { role } : {}),
    ...(note ? { note } : {}),
    ...(ink !== undefined && percent >= 0 && percent <= 100 ? { tint: { of: ink, percent } } : {}),
    ...(alpha && Number(alpha) >= 0 && Number(alpha) < 1 ? { alpha: Number(alpha) } : {}),
  };
}

/** The values; where they begin and their step may be told elsewhere, and are not numbers until then. */
/** As many as a swatch may keep. */
const MAX_WAVELENGTHS = 1000;

function readSpectrum(node: XmlNode, called: string): Spectrum {
  const values = node.text
    .trim()
    .split(/\s+/, MAX_WAVELENGTHS + 1)
    .map(Number);
  if (values.length > MAX_WAVELENGTHS)
    throw new FormatError(
      `line ${node.line}: the spectrum of ${called} has more than ${MAX_WAVELENGTHS} values.`,
    );
  if (values.length < 2 || !values.every(Number.isFinite))
    throw new FormatError(
      `line ${node.line}: the spectrum of ${called} cannot be read: one of its values is missing.`,
    );
  return { start: Number(node.attributes.StartWL), step: Number(node.attributes.Increment), values };
}

function objectOf(
  swatch: Swatch,
  n: number,
  group: { name: string; first: boolean } | null,
  specId: (s: Spectrum) => string,
  whites: Set<White>,
  condition: Condition,
  now: string,
  comments: readonly string[] = [],
): string {
  const main = swatch.color.white ? swatch.color : carried(swatch.color, cxf.traits.spaces, condition);
  const others = [...(swatch.alternates ?? [])];
  // who measures a spot ink, or matches it, needs its Lab
  if (swatch.kind === 'spot' && main.space !== 'lab')
    others.push({ space: 'lab', components: toLab(main, condition) });
  const colors = [main, ...others].filter(
    (c, i, all) =>
      all.findIndex((o) => o.space === c.space) === i && WRITTEN.some((v) => v.space === c.space),
  );
  const values: string[] = [];
  const devices: string[] = [];
  for (const color of colors) {
    const { element, parts, factor, device } = WRITTEN.find((v) => v.space === color.space)!;
    // whole numbers are what others expect here
    const numbers =
      color.space === 'rgb' ? toRgb8(color, condition) : color.components.map((c) => c * factor);
    if (color.white) whites.add(color.white);
    const spec = device ? DEVICE_SPEC : specOf(color.white);
    (device ? devices : values).push(
      `<cc:${element} ColorSpecification="${spec}">${parts.map((p, i) => `<cc:${p}>${numbers[i]}</cc:${p}>`).join('')}</cc:${element}>`,
    );
  }
  if (swatch.spectrum)
    values.push(
      `<cc:ReflectanceSpectrum ColorSpecification="${specId(swatch.spectrum)}" StartWL="${swatch.spectrum.start}" Increment="${swatch.spectrum.step}">${swatch.spectrum.values.join(' ')}</cc:ReflectanceSpectrum>`,
    );
  const tags: [string, string | undefined][] = [
    ['Group', group?.name],
    // two groups in a row may have one name
    ['New group', group?.first ? '1' : undefined],
    ['Kind', swatch.kind],
    ['Space', colors.length > 1 ? main.space : undefined],
    ['Code', swatch.code],
    ['Role', swatch.role],
    ['Tint of', swatch.tint?.of],
    ['Tint', swatch.tint && String(swatch.tint.percent)],
    ['Alpha', swatch.alpha === undefined || swatch.alpha === 1 ? undefined : String(swatch.alpha)],
    ...comments.map((text, i): [string, string] => [`Comment ${i + 1}`, text]),
  ];
  const list = tags.flatMap(([name, value]) =>
    value === undefined ? [] : [`<cc:Tag Name="${name}" Value="${escapeXml(value)}"/>`],
  );
  return `   <cc:Object ObjectType="Standard" Name="${escapeXml(swatch.name)}" Id="c${n}"><cc:CreationDate>${now}</cc:CreationDate>${swatch.note ? `<cc:Comment>${escapeXml(swatch.note)}</cc:Comment>` : ''}${part('ColorValues', values)}${part('DeviceColorValues', devices)}${part('TagCollection', list)}</cc:Object>\n`;
}
