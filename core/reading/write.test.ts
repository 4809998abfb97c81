import Papa from 'papaparse';
import { SaxesParser } from 'saxes';
import { describe, expect, it } from 'vitest';
import type { ReadingData, Step } from '../swatch/reading.ts';
import { inksOf, levelOfX4, missingForX4, READING_FORMS, readMeasurements, writeCxf } from './index.ts';

const NOW = '2026-11-24T09:12:00Z';
const curve = (of: (nm: number) => number, start = 380, step = 10, n = 36) => ({
  start,
  step,
  values: Array.from({ length: n }, (_, i) => Number(of(start + step * i).toFixed(7))),
});
const sheet = (nm: number) => 0.86 - 0.08 * Math.exp(-(((nm - 400) / 40) ** 2));
const orange = (nm: number) => 0.04 + 0.72 / (1 + Math.exp(-(nm - 575) / 14));
const step = (percent: number, backing: Step['backing'], of: (nm: number) => number): Step => ({
  percent,
  backing,
  name: percent === 0 ? `Paper over ${backing}` : `Orange & “co” <${percent}> over ${backing}`,
  spectrum: curve(of),
});
const ramp = (backing: Step['backing'], base: (nm: number) => number, dark = 1) =>
  [0, 12.5, 50, 100].map((p) =>
    step(p, backing, (nm) => base(nm) + (dark * orange(nm) - base(nm)) * (p / 100)),
  );
const reading: ReadingData = {
  ink: {
    name: 'Lifebuoy “orange” & co',
    conditions: {},
    steps: [...ramp('white', sheet), ...ramp('black', () => 0.03, 0.5)],
  },
  facts: {
    code: 'KM-0417',
    substrate: 'coated, 150 g',
    customer: 'Kestrelmere Ferries',
    tolerance: '2.0',
    formula: 'ΔE00',
    operator: 'J. on the press',
    date: '2026-11-24',
    device: 'bench instrument, simulated',
    geometry: '45/0',
    mode: 'M1',
    illuminant: 'D50',
    observer: '2°',
  },
  from: 'lifebuoy-orange.txt',
};

describe.each(READING_FORMS.map((f) => [f.name, f] as const))('a measured ink as %s', (_, form) => {
  const bytes = form.write([reading], NOW);

  it('comes back with every band, step and backing', async () => {
    const file = await readMeasurements(bytes, `ink.${form.ending}`);
    const { inks, warnings } = inksOf([file]);
    expect(warnings).toEqual([]);
    expect(inks.map((i) => i.name)).toEqual([reading.ink.name]);
    const [ink] = inks;
    expect(ink!.steps.map((s) => [s.percent, s.backing])).toEqual(
      reading.ink.steps.map((s) => [s.percent, s.backing]),
    );
    ink!.steps.forEach((s, i) => {
      const { spectrum } = reading.ink.steps[i]!;
      expect([s.spectrum.start, s.spectrum.step]).toEqual([380, 10]);
      s.spectrum.values.forEach((v, k) => {
        expect(Math.abs(v - spectrum.values[k]!)).toBeLessThan(1e-6);
      });
    });
  });
});

describe('CxF/X-4', () => {
  const text = new TextDecoder().decode(writeCxf([reading], NOW));

  it('keeps all that is known of the ink, and so does CGATS', async () => {
    for (const form of READING_FORMS.filter((f) => f.id !== 'csv')) {
      const file = await readMeasurements(form.write([reading], NOW), `ink.${form.ending}`);
      expect(inksOf([file]).inks[0]!.conditions).toEqual(reading.facts);
    }
  });

  it('says in its own part which patch is which, as a reader of that alone finds', () => {
    // another reader: a plain walk through the tags, which knows of the standard's part for spot inks and of nothing else
    const spectra = new Map<string, number[]>();
    const found: [string, string, number, number][] = [];
    let [object, ink, background, inside] = ['', '', '', ''];
    const parser = new SaxesParser({ xmlns: true });
    parser.on('opentag', (tag) => {
      const value = (name: string) =>
        String((tag.attributes[name] as { value: string } | undefined)?.value ?? '');
      inside = tag.local;
      if (tag.local === 'Object') object = value('Id');
      if (tag.local === 'SpotInkCharacterisation') ink = value('SpotInkName');
      if (tag.local === 'MeasurementSet') background = value('Background');
      if (tag.local === 'Measurement')
        found.push([ink, background, Number(value('Tint')), spectra.get(value('ObjectReference'))!.length]);
    });
    parser.on('text', (t) => {
      if (inside === 'ReflectanceSpectrum' && t.trim()) spectra.set(object, t.trim().split(' ').map(Number));
    });
    parser.write(text).close();
    expect(found).toEqual(
      reading.ink.steps.map((s) => [
        reading.ink.name,
        s.backing === 'white' ? 'Substrate' : 'Black',
        s.percent,
        36,
      ]),
    );
  });

  it('knows what is missing before it is written, and how much of the standard it is', () => {
    expect(missingForX4(reading)).toEqual([]);
    expect(levelOfX4(reading.ink)).toBe('CxF/X-4');
    const white = { ...reading.ink, steps: reading.ink.steps.filter((s) => s.backing === 'white') };
    expect(levelOfX4(white)).toBe('CxF/X-4a');
    const solid = { ...white, steps: white.steps.filter((s) => s.percent === 100) };
    expect(levelOfX4(solid)).toBe('CxF/X-4b');
    expect(missingForX4({ ink: { ...solid, name: ' ' }, facts: { mode: 'M1', geometry: '45/0' } })).toEqual([
      'Ink name',
      'Substrate',
      'Date',
      'Instrument',
      'the bare sheet over white',
    ]);
  });

  it('of another writer is read by its specifications and spot colours', async () => {
    const foreign = `<?xml version="1.0"?>
<CxF xmlns="http://colorexchangeformat.com/CxF3-core"><FileInformation><CreationDate>2026-03-02T10:00:00</CreationDate></FileInformation>
<Resources><ObjectCollection>
<Object ObjectType="Standard" Name="A1" Id="1"><ColorValues><ReflectanceSpectrum ColorSpecification="w">${curve(sheet).values.join(' ')}</ReflectanceSpectrum></ColorValues><DeviceColorValues><ColorCMYKPlusN><SpotColor><Name>Buoy</Name><Percentage>0</Percentage></SpotColor></ColorCMYKPlusN></DeviceColorValues></Object>
<Object ObjectType="Standard" Name="A2" Id="2"><ColorValues><ReflectanceSpectrum ColorSpecification="w">${curve(orange).values.join(' ')}</ReflectanceSpectrum></ColorValues><DeviceColorValues><ColorCMYKPlusN><SpotColor><Name>Buoy</Name><Percentage>100</Percentage></SpotColor></ColorCMYKPlusN></DeviceColorValues></Object>
<Object ObjectType="Standard" Name="A3" Id="3"><ColorValues><ReflectanceSpectrum ColorSpecification="b">${curve(
      orange,
    )
      .values.map((v) => v / 2)
      .join(
        ' ',
      )}</ReflectanceSpectrum></ColorValues><DeviceColorValues><ColorCMYKPlusN><SpotColor><Name>Buoy</Name><Percentage>100</Percentage></SpotColor></ColorCMYKPlusN></DeviceColorValues></Object>
</ObjectCollection><ColorSpecificationCollection>
<ColorSpecification Id="w"><MeasurementSpec><MeasurementType>Spectrum_Reflectance</MeasurementType><GeometryChoice><SingleAngle><SingleAngleConfiguration>Annular</SingleAngleConfiguration><IlluminationAngle>45</IlluminationAngle><MeasurementAngle>0</MeasurementAngle></SingleAngle></GeometryChoice><WavelengthRange StartWL="380" Increment="10"/><Device><Model>Any</Model><DeviceFilter>M0</DeviceFilter></Device><Backing>White</Backing></MeasurementSpec></ColorSpecification>
<ColorSpecification Id="b"><MeasurementSpec><WavelengthRange StartWL="380" Increment="10"/><Device><Model>Any</Model><DeviceFilter>M0</DeviceFilter></Device><Backing>Black</Backing></MeasurementSpec></ColorSpecification>
</ColorSpecificationCollection></Resources></CxF>`;
    const { inks } = inksOf([await readMeasurements(new TextEncoder().encode(foreign), 'buoy.cxf')]);
    expect(inks.map((i) => [i.name, i.steps.map((s) => [s.percent, s.backing])])).toEqual([
      [
        'Buoy',
        [
          [0, 'white'],
          [100, 'white'],
          [100, 'black'],
        ],
      ],
    ]);
    expect(inks[0]!.conditions).toEqual({ geometry: '45/0', mode: 'M0', device: 'Any', date: '2026-03-02' });
  });
});

describe('spectra in a CSV', () => {
  const csv = (text: string, name = 'sheet.csv') => readMeasurements(new TextEncoder().encode(text), name);
  const bands = [400, 450, 500, 550, 600, 650, 700];

  it('stand in rows with a column for each wavelength, or the other way round', async () => {
    const rows = await csv(
      `Sample;Ink;Tint;Backing;${bands.map((b) => `${b} nm`).join(';')}\nA;Buoy;0;white;${bands.map(() => '85,5').join(';')}\nB;Buoy;100;white;${bands.map((_, i) => `${5 + i * 10},25`).join(';')}\n`,
    );
    const [buoy] = inksOf([rows]).inks;
    expect(
      buoy!.steps.map((s) => [s.percent, s.spectrum.start, s.spectrum.step, s.spectrum.values[1]]),
    ).toEqual([
      [0, 400, 50, 0.855],
      [100, 400, 50, 0.1525],
    ]);
    const turned = await csv(
      `nm,Paper,Buoy 100\n${bands.map((b, i) => `${b},0.855,${(0.05 + i * 0.1).toFixed(2)}`).join('\n')}\n`,
    );
    expect(
      inksOf([turned]).inks.map((i) => [i.name, i.steps.map((s) => [s.percent, s.spectrum.values.length])]),
    ).toEqual([
      [
        'Buoy',
        [
          [0, 7],
          [100, 7],
        ],
      ],
    ]);
  });

  it('that a spreadsheet would run as formulas are written as texts, and missing wavelengths stay empty', () => {
    const odd: ReadingData = {
      ...reading,
      ink: {
        ...reading.ink,
        name: '=1+1',
        steps: [
          { ...reading.ink.steps[3]!, spectrum: curve(orange, 390, 20, 5) },
          ...reading.ink.steps.slice(0, 1),
        ],
      },
    };
    const text = new TextDecoder().decode(READING_FORMS.find((f) => f.id === 'csv')!.write([odd], NOW));
    const { data } = Papa.parse<Record<string, string>>(text.trim(), { header: true });
    expect(data[0]!.Ink).toBe("'=1+1");
    expect(data[0]!['400 nm']).toBe('');
    expect(Number(data[0]!['410 nm'])).toBeCloseTo(orange(410), 6);
  });

  it('an invalid number is reported with its line', async () => {
    await expect(
      csv(`Name,${bands.join(',')}\nBuoy,${bands.map((_, i) => (i === 3 ? 'n/a' : '0.5')).join(',')}\n`),
    ).rejects.toThrow(/sheet\.csv, line 2: SPECTRAL_NM550 “n\/a” is not a number/);
  });
});

describe('reflectance in percent', () => {
  const table = (rows: [string, number[]][]) =>
    new TextEncoder().encode(
      `CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_NAME ${[400, 500, 600, 700].map((n) => `SPECTRAL_NM${n}`).join(' ')}\nEND_DATA_FORMAT\nBEGIN_DATA\n${rows.map(([n, v]) => `"${n}" ${v.join(' ')}`).join('\n')}\nEND_DATA\n`,
    );

  it('is so for all of a file: a black that reflects 1.5 % is not 150 %', async () => {
    const [ink] = inksOf([
      await readMeasurements(
        table([
          ['Paper', [80, 82, 84, 85]],
          ['Soot 100', [1.5, 1.4, 1.3, 1.2]],
        ]),
        'soot.txt',
      ),
    ]).inks;
    expect(ink!.steps.at(-1)!.spectrum.values).toEqual(
      [0.015, 0.014, 0.013, 0.012].map((v) => expect.closeTo(v, 9)),
    );
  });

  it('mixed with parts of 1 is pointed out', async () => {
    const { warnings } = inksOf([
      await readMeasurements(
        table([
          ['Paper', [0.8, 0.82, 0.84, 0.85]],
          ['Soot 100', [4, 4, 4, 4]],
        ]),
        'soot.txt',
      ),
    ]);
    expect(warnings.join(' ')).toMatch(/“Soot” 0 % over white reflects less than 2 % .* mixed/);
  });
});
