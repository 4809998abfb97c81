import type { Spectrum } from '../swatch/model.ts';
import {
  FACTS,
  type FactId,
  type Facts,
  factIds,
  type MeasuredInk,
  type ReadingData,
} from '../swatch/reading.ts';
import { FormatError } from '../text/error.ts';
import { short, writeText } from '../text/text.ts';
import { childOf, elements, escapeXml, parseXml, type XmlNode } from '../text/xml.ts';
import type { Patch } from './model.ts';

// Measured inks as CxF: ISO 17972-1, and -4 for spot inks (CxF/X-4). The elements are from memory of the standards.

const CORE = 'http://colorexchangeformat.com/CxF3-core';
const SPOT = 'http://colorexchangeformat.com/CxF3-SpotInkCharacterisation';

const textOf = (node: XmlNode, name: string) => [...elements(node, name)][0]?.text.trim() ?? '';

/** What a specification says of how it was measured, and at which wavelengths. */
interface Specification {
  facts: Facts;
  backing?: Patch['backing'];
  start: number;
  step: number;
}

/** 45/0 of what says where light falls and where it is looked from. */
function geometryOf(spec: XmlNode): string {
  const configuration = textOf(spec, 'SingleAngleConfiguration');
  const [from, to] = [textOf(spec, 'IlluminationAngle'), textOf(spec, 'MeasurementAngle')];
  const angles = from && to ? `${from}/${to}` : /annular|circumferential/i.test(configuration) ? '45/0' : '';
  if (angles) return angles;
  const sphere = [...elements(spec, 'Sphere')][0];
  return sphere ? (/include|SCI/i.test(sphere.text) ? 'd/8 included' : 'd/8') : configuration;
}

function specifications(root: XmlNode): Map<string, Specification> {
  const found = new Map<string, Specification>();
  for (const spec of elements(root, 'ColorSpecification')) {
    const [range] = elements(spec, 'WavelengthRange');
    const said: [FactId, string][] = [
      ['geometry', geometryOf(spec)],
      [
        'mode',
        /M[0-3]/.exec(`${textOf(spec, 'DeviceFilter')} ${textOf(spec, 'DeviceIllumination')}`)?.[0] ?? '',
      ],
      ['device', [textOf(spec, 'Manufacturer'), textOf(spec, 'Model')].filter(Boolean).join(' ')],
      ['filter', /polari[sz]/i.test(textOf(spec, 'DevicePolarization')) ? 'polarised' : ''],
      ['illuminant', textOf(spec, 'Illuminant')],
      ['observer', textOf(spec, 'Observer').replace('_Degree', '°')],
    ];
    const backing = textOf(spec, 'Backing').toLowerCase();
    found.set(spec.attributes.Id ?? '', {
      facts: Object.fromEntries(said.filter(([, value]) => value)),
      ...(backing.includes('black')
        ? { backing: 'black' }
        : backing.includes('white')
          ? { backing: 'white' }
          : {}),
      start: Number(range?.attributes.StartWL),
      step: Number(range?.attributes.Increment),
    });
  }
  return found;
}

/**
 * The measured patches of a CxF, with what it says of them; those without spectra are left out.
 *
 * @throws FormatError for a spectrum without wavelengths, or with invalid numbers
 */
export function readCxf(
  text: string,
  file: string,
): { title: string; patches: Patch[]; conditions: Facts; without: number } {
  const root = parseXml(text);
  const specs = specifications(root);
  const [information] = elements(root, 'FileInformation');
  const tags = new Map(
    [...elements(information ?? root, 'Tag')].map((t) => [t.attributes.Name ?? '', t.attributes.Value ?? '']),
  );
  const conditions: Facts = {};
  for (const id of factIds) {
    const value = tags.get(FACTS[id].label);
    if (value) conditions[id] = value;
  }
  const made = information && childOf(information, 'CreationDate')?.text.trim();
  if (made && !made.startsWith('1980')) conditions.date ??= made.slice(0, 10);
  const places = placesOf(root);
  const patches: Patch[] = [];
  let without = 0;
  for (const object of elements(root, 'Object')) {
    const measured = childOf(childOf(object, 'ColorValues'), 'ReflectanceSpectrum');
    const name = object.attributes.Name ?? '';
    if (!measured) {
      without++;
      continue;
    }
    const where = `${file}, line ${measured.line}, “${name}”`;
    const spec = specs.get(measured.attributes.ColorSpecification ?? '');
    const place = places.get(object.attributes.Id ?? '') ?? placeOf(object);
    const backing = place?.backing ?? spec?.backing;
    patches.push({
      name,
      spectrum: spectrumOf(measured, spec, where),
      ...(place?.ink === undefined ? {} : { ink: place.ink }),
      ...(place
        ? { percent: place.percent }
        : object.attributes.ObjectType === 'Substrate'
          ? { percent: 0 }
          : {}),
      ...(backing ? { backing } : {}),
      ...(spec ? { facts: spec.facts } : {}),
      where,
    });
  }
  return {
    title: (information && childOf(information, 'Description')?.text.trim()) || '',
    patches,
    conditions,
    without,
  };
}

function spectrumOf(node: XmlNode, spec: Specification | undefined, where: string): Spectrum {
  const start = Number(node.attributes.StartWL ?? Number.NaN);
  const step = Number(node.attributes.Increment ?? Number.NaN);
  const values = node.text.trim().split(/\s+/).map(Number);
  const grid = { start: Number.isFinite(start) ? start : spec?.start, step: step > 0 ? step : spec?.step };
  if (grid.start === undefined || !Number.isFinite(grid.start))
    throw new FormatError(
      `${where}: its first wavelength is missing. Export it again with a WavelengthRange.`,
    );
  if (values.length < 2 || !values.every(Number.isFinite))
    throw new FormatError(`${where}: one of its values is missing or is not a number.`);
  return { start: grid.start, step: grid.step && grid.step > 0 ? grid.step : 10, values };
}

interface Place {
  ink?: string;
  percent: number;
  backing?: Patch['backing'];
}

/** Where the part for spot inks puts each object: of which ink, how much of it, over what. */
function placesOf(root: XmlNode): Map<string, Place> {
  const places = new Map<string, Place>();
  for (const ink of elements(root, 'SpotInkCharacterisation'))
    for (const set of elements(ink, 'MeasurementSet'))
      for (const one of elements(set, 'Measurement')) {
        const percent = Number(one.attributes.Tint);
        if (percent >= 0 && percent <= 100)
          places.set(one.attributes.ObjectReference ?? '', {
            ink: ink.attributes.SpotInkName ?? '',
            percent,
            backing: /black/i.test(set.attributes.Background ?? '') ? 'black' : 'white',
          });
      }
  return places;
}

/** What an object says of itself: as a part of a spot ink, or in the words of our own files. */
function placeOf(object: XmlNode): Place | undefined {
  const [spot] = elements(object, 'SpotColor');
  const percent = spot ? Number(textOf(spot, 'Percentage') || Number.NaN) : Number.NaN;
  if (spot && percent >= 0 && percent <= 100) return { ink: textOf(spot, 'Name'), percent };
  const tags = new Map(
    [...elements(object, 'Tag')].map((t) => [t.attributes.Name ?? '', t.attributes.Value ?? '']),
  );
  const [ink, tint] = [tags.get('Tint of'), Number(tags.get('Tint') ?? Number.NaN)];
  return ink !== undefined && tint >= 0 && tint <= 100 ? { ink, percent: tint } : undefined;
}

/** What a measured ink lacks for CxF/X-4: what it has to say, and what has to be measured. From memory of ISO 17972-4. */
export function missingForX4({ ink, facts }: Pick<ReadingData, 'ink' | 'facts'>): string[] {
  const has = (percent: number) => ink.steps.some((s) => s.percent === percent && s.backing === 'white');
  return [
    ...(ink.name.trim() ? [] : ['Ink name']),
    ...factIds.filter((id) => 'needed' in FACTS[id] && !facts[id]?.trim()).map((id) => FACTS[id].label),
    ...(has(100) ? [] : ['the solid over white']),
    ...(has(0) ? [] : ['the bare sheet over white']),
  ];
}

/** How much of CxF/X-4 a measured ink has: all of it, over white alone, or the solid alone. */
export function levelOfX4({ steps }: MeasuredInk): 'CxF/X-4' | 'CxF/X-4a' | 'CxF/X-4b' {
  const tints = (backing: 'white' | 'black') =>
    steps.filter((s) => s.backing === backing && s.percent > 0).length;
  return tints('white') < 3 ? 'CxF/X-4b' : tints('black') === 0 ? 'CxF/X-4a' : 'CxF/X-4';
}

const GEOMETRY = /^(\d+)\D+(\d+)/;

/** Measured inks as CxF/X-4. @param now ISO 8601, when it is written */
export function writeCxf(
  readings: readonly Pick<ReadingData, 'ink' | 'facts'>[],
  now: string,
): Uint8Array<ArrayBuffer> {
  const specs: string[] = [];
  const objects: string[] = [];
  const inks: string[] = [];
  let n = 0;
  for (const { ink, facts } of readings) {
    const ids = new Map<string, string>();
    const specOf = ({ start, step }: Spectrum, backing: string) => {
      const key = `${start}/${step}/${backing}`;
      let id = ids.get(key);
      if (!id) {
        id = `M${specs.length + 1}`;
        ids.set(key, id);
        const [, from, to] = GEOMETRY.exec(facts.geometry ?? '') ?? [];
        const geometry = from
          ? `<cc:GeometryChoice><cc:SingleAngle><cc:SingleAngleConfiguration>Annular</cc:SingleAngleConfiguration><cc:IlluminationAngle>${from}</cc:IlluminationAngle><cc:MeasurementAngle>${to}</cc:MeasurementAngle></cc:SingleAngle></cc:GeometryChoice>`
          : '';
        const element = (name: string, value: string | undefined) =>
          value ? `<cc:${name}>${escapeXml(value)}</cc:${name}>` : '';
        specs.push(
          `   <cc:ColorSpecification Id="${id}"><cc:TristimulusSpec><cc:Illuminant>${escapeXml(facts.illuminant || 'D50')}</cc:Illuminant><cc:Observer>${(facts.observer || '2').replace(/\D/g, '') || '2'}_Degree</cc:Observer><cc:Method>E308_1nm</cc:Method></cc:TristimulusSpec><cc:MeasurementSpec><cc:MeasurementType>Spectrum_Reflectance</cc:MeasurementType>${geometry}<cc:WavelengthRange StartWL="${start}" Increment="${step}"/><cc:Device>${element('Model', facts.device)}${element('DeviceFilter', facts.mode)}${element('DevicePolarization', facts.filter)}</cc:Device><cc:Backing>${backing === 'black' ? 'Black' : 'White'}</cc:Backing></cc:MeasurementSpec></cc:ColorSpecification>\n`,
        );
      }
      return id;
    };
    const sets: Record<'white' | 'black', string[]> = { white: [], black: [] };
    for (const { name, percent, backing, spectrum } of ink.steps) {
      const id = `p${++n}`;
      objects.push(
        `   <cc:Object ObjectType="${percent === 0 ? 'Substrate' : 'Target'}" Name="${escapeXml(name)}" Id="${id}"><cc:CreationDate>${now}</cc:CreationDate><cc:ColorValues><cc:ReflectanceSpectrum ColorSpecification="${specOf(spectrum, backing)}" StartWL="${spectrum.start}" Increment="${spectrum.step}">${spectrum.values.map((v) => short(v, 9)).join(' ')}</cc:ReflectanceSpectrum></cc:ColorValues></cc:Object>\n`,
      );
      sets[backing].push(`     <sic:Measurement ObjectReference="${id}" Tint="${short(percent, 6)}"/>\n`);
    }
    const written = (['white', 'black'] as const)
      .filter((b) => sets[b].length > 0)
      .map(
        (b) =>
          `    <sic:MeasurementSet Background="${b === 'white' ? 'Substrate' : 'Black'}">\n${sets[b].join('')}    </sic:MeasurementSet>\n`,
      );
    inks.push(
      `   <sic:SpotInkCharacterisation SpotInkName="${escapeXml(ink.name)}">\n${written.join('')}   </sic:SpotInkCharacterisation>\n`,
    );
  }
  // the facts of a single ink describe the file
  const [only] = readings;
  const tags =
    readings.length === 1 && only
      ? factIds.flatMap((id) =>
          only.facts[id] ? [`<cc:Tag Name="${FACTS[id].label}" Value="${escapeXml(only.facts[id])}"/>`] : [],
        )
      : [];
  const title = readings.map((r) => r.ink.name).join(', ');
  return writeText(
    `<?xml version="1.0" encoding="UTF-8"?>\n<cc:CxF xmlns:cc="${CORE}" xmlns:sic="${SPOT}">\n <cc:FileInformation><cc:Creator>Papillon</cc:Creator><cc:CreationDate>${now}</cc:CreationDate><cc:Description>${escapeXml(title)}</cc:Description>${tags.join('')}</cc:FileInformation>\n <cc:Resources>\n  <cc:ObjectCollection>\n${objects.join('')}  </cc:ObjectCollection>\n  <cc:ColorSpecificationCollection>\n${specs.join('')}  </cc:ColorSpecificationCollection>\n </cc:Resources>\n <cc:CustomResources>\n${inks.join('')} </cc:CustomResources>\n</cc:CxF>\n`,
  );
}
