import Reference from 'colorjs.io';
import { XMLParser } from 'fast-xml-parser';
import { describe, expect, it } from 'vitest';
import { SHIPPED, toLab } from '../../color/index.ts';
import type { Library } from '../../swatch/model.ts';
import { coated, fleet, readBy, services, writeBy } from '../../testing.ts';
import { compareWritten } from '../changes.ts';
import { cxf } from './cxf.ts';

const measured: Library = {
  ...fleet,
  groups: [
    {
      id: 'g',
      name: '',
      swatches: [
        {
          ...fleet.groups[1].swatches[0],
          spectrum: { start: 400, step: 10, values: [0.05, 0.061, 0.7] },
          alternates: [{ space: 'cmyk', components: [0.1, 0.95, 0.8, 0.05] }],
        },
      ],
    },
  ],
};

describe('CxF', () => {
  it('keeps what a tint is of', () => {
    const [ink] = fleet.groups[1].swatches;
    const tint = { of: 'Boot-top "red" & more', percent: 37.5 };
    const library = { ...fleet, groups: [{ id: 'g', name: '', swatches: [{ ...ink, tint }] }] };
    expect(readBy(cxf, writeBy(cxf, library)).swatches[0].tint).toEqual(tint);
  });

  it('has comments on its samples when it is asked to, as tags that any reader of them has', () => {
    const [ink] = fleet.groups[1].swatches;
    const data = {
      by: 'secret',
      author: 'Anna',
      at: Date.UTC(2026, 10, 3),
      text: 'Why <so> red?',
      thread: null,
    };
    const items = [
      { id: 'a', kind: 'comment', name: '', refs: [ink.id], data },
      { id: 'b', kind: 'comment', name: '', refs: [ink.id], data: { ...data, text: 'Because', thread: 'a' } },
    ];
    expect(writeBy(cxf, { ...fleet, items })).not.toMatch(/Anna/);
    const parser = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '@', removeNSPrefix: true });
    const { CxF } = parser.parse(writeBy(cxf, { ...fleet, items }, { comments: true }));
    const object = CxF.Resources.ObjectCollection.Object.find(
      (o: { '@Name': string }) => o['@Name'] === ink.name,
    );
    const tags = object.TagCollection.Tag.map((t: Record<string, string>) => [t['@Name'], t['@Value']]);
    expect(tags.slice(-2)).toEqual([
      ['Comment 1', 'Anna, 2026-11-03: Why <so> red?'],
      ['Comment 2', 'Anna, 2026-11-03: Because'],
    ]);
  });

  it('is read by fast-xml-parser: objects with Lab, CMYK and spectra under their names', () => {
    const parser = new XMLParser({
      ignoreAttributes: false,
      attributeNamePrefix: '@',
      removeNSPrefix: true,
      parseTagValue: false,
    });
    const { CxF } = parser.parse(writeBy(cxf, measured));
    const { Object: object } = CxF.Resources.ObjectCollection;
    expect(object['@Name']).toBe('Boot-top red');
    const { ColorCIELab, ReflectanceSpectrum } = object.ColorValues;
    // a device's numbers stand apart from measured ones (ISO 17972-1, from memory)
    const { ColorCMYK } = object.DeviceColorValues;
    expect([ColorCIELab.L, ColorCIELab.A, ColorCIELab.B]).toEqual(['40', '57', '33']);
    expect([ColorCMYK.Cyan, ColorCMYK.Magenta, ColorCMYK.Yellow, ColorCMYK.Black]).toEqual([
      '10',
      '95',
      '80',
      '5',
    ]);
    expect(ReflectanceSpectrum['#text']).toBe('0.05 0.061 0.7');
    expect(ReflectanceSpectrum['@StartWL']).toBe('400');
    // every colour specification that is referred to is there
    const specs = [CxF.Resources.ColorSpecificationCollection.ColorSpecification].flat().map((s) => s['@Id']);
    expect(specs).toEqual(
      expect.arrayContaining([
        ColorCIELab['@ColorSpecification'],
        ReflectanceSpectrum['@ColorSpecification'],
      ]),
    );
  });

  it('brings spectra, alternates, codes, roles, kinds and groups back', () => {
    const { swatches } = readBy(cxf, cxf.encode(measured, services));
    expect(swatches[0]).toMatchObject({ ...measured.groups[0].swatches[0], id: expect.anything() });
    expect(readBy(cxf, cxf.encode(fleet, services)).library.groups.map((g) => g.name)).toEqual(['', 'Hull']);
    expect(readBy(cxf, cxf.encode(fleet, services)).swatches.map((s) => s.kind)).toEqual(
      fleet.groups.flatMap((g) => g.swatches.map((s) => s.kind)),
    );
  });

  it('reads any prefix, spectra by their specification, and a colour that is only measured', () => {
    const text = `<?xml version="1.0"?><x:CxF xmlns:x="http://colorexchangeformat.com/CxF3-core"><x:Resources>
      <x:ObjectCollection>
        <x:Object ObjectType="Target" Name="White tile" Id="1"><x:ColorValues>
          <x:ReflectanceSpectrum ColorSpecification="M0">1 1 1 1</x:ReflectanceSpectrum></x:ColorValues></x:Object>
        <x:Object ObjectType="Target" Name="Screen" Id="2"><x:ColorValues>
          <x:ColorSRGB MaxRange="255"><x:R>255</x:R><x:G>0</x:G><x:B>0</x:B></x:ColorSRGB></x:ColorValues></x:Object>
        <x:Object ObjectType="Target" Name="Nothing" Id="3"><x:ColorValues/></x:Object>
      </x:ObjectCollection>
      <x:ColorSpecificationCollection><x:ColorSpecification Id="M0"><x:MeasurementSpec>
        <x:WavelengthRange StartWL="400" Increment="100"/></x:MeasurementSpec></x:ColorSpecification>
      </x:ColorSpecificationCollection></x:Resources></x:CxF>`;
    const { swatches, warnings } = readBy(cxf, text);
    expect(swatches[0].spectrum).toEqual({ start: 400, step: 100, values: [1, 1, 1, 1] });
    expect(swatches[0].color.components.map((v) => Math.round(v * 1e6) / 1e6 + 0)).toEqual([100, 0, 0]);
    expect(swatches[1].color).toEqual({ space: 'rgb', components: [1, 0, 0] });
    expect(warnings.join()).toMatch(/1 entry has no colour values .*: Nothing/);
  });

  it('names the line of a value that is none', () => {
    const { warnings } = readBy(cxf, writeBy(cxf, fleet).replace('<cc:L>40</cc:L>', '<cc:L>NaN</cc:L>'));
    expect(warnings.join()).toMatch(/line \d+: L of “Boot-top red” “NaN” is not a number/);
  });

  const inFile = (objects: string, specs = '') =>
    readBy(
      cxf,
      `<CxF><Resources><ObjectCollection>${objects}</ObjectCollection><ColorSpecificationCollection>${specs}</ColorSpecificationCollection></Resources></CxF>`,
    );

  it('reads LCh, XYZ, xyY and a device’s numbers, wherever they stand', () => {
    const parts = (names: string[], values: number[]) =>
      names.map((n, i) => `<${n}>${values[i]}</${n}>`).join('');
    // the white of D50 and a green of the same; as colorjs.io has them
    const green = new Reference('lab', [60, -40, 30]);
    const xyz = green.to('xyz-d50').coords.map((v) => Number(v) * 100);
    const [x, y, Y] = [
      xyz[0]! / (xyz[0]! + xyz[1]! + xyz[2]!),
      xyz[1]! / (xyz[0]! + xyz[1]! + xyz[2]!),
      xyz[1]!,
    ];
    const { swatches } = inFile(
      `<Object Name="LCh"><ColorValues><ColorCIELCh>${parts(['L', 'C', 'H'], [60, 50, 143.13010235415598])}</ColorCIELCh></ColorValues></Object>
       <Object Name="XYZ"><ColorValues><ColorCIEXYZ>${parts(['X', 'Y', 'Z'], xyz)}</ColorCIEXYZ></ColorValues></Object>
       <Object Name="xyY"><ColorValues><ColorCIExyY>${parts(['x', 'y', 'Y'], [x, y, Y])}</ColorCIExyY></ColorValues></Object>
       <Object Name="Inks"><DeviceColorValues><ColorCMYKPlusN>${parts(['Cyan', 'Magenta', 'Yellow', 'Black'], [10, 20, 30, 40])}<SpotColor Name="x" Percentage="5"/></ColorCMYKPlusN></DeviceColorValues></Object>
       <Object Name="Screen"><DeviceColorValues><ColorRGB MaxRange="1">${parts(['R', 'G', 'B'], [1, 0.5, 0])}</ColorRGB></DeviceColorValues></Object>`,
    );
    for (const swatch of swatches.slice(0, 3))
      toLab(swatch.color, coated).forEach((v, i) => {
        expect(v).toBeCloseTo([60, -40, 30][i]!, 3);
      });
    expect(swatches.slice(3).map((s) => s.color)).toEqual([
      { space: 'cmyk', components: [0.1, 0.2, 0.3, 0.4] },
      { space: 'rgb', components: [1, 0.5, 0] },
    ]);
    expect(swatches.map((s) => s.kind)).toEqual(['spot', 'spot', 'spot', 'process', 'process']);
  });

  it('brings XYZ of another white to D50, as its specification says', () => {
    // the white of D65 and 2° (CIE 15) is white
    const { swatches } = inFile(
      '<Object Name="Tile"><ColorValues><ColorCIEXYZ ColorSpecification="A"><X>95.047</X><Y>100</Y><Z>108.883</Z></ColorCIEXYZ></ColorValues></Object>',
      '<ColorSpecification Id="A"><TristimulusSpec><Illuminant>D65</Illuminant><Observer>2_Degree</Observer></TristimulusSpec></ColorSpecification>',
    );
    expect(swatches[0]!.color.components.map((v) => Math.round(v * 10) / 10 + 0)).toEqual([100, 0, 0]);
  });

  it('gives a spot that is mixed of inks its Lab as it prints, and says when it was made', () => {
    const inks = { space: 'cmyk' as const, components: [0, 1, 0.9, 0] };
    const spot = { ...fleet.groups[1]!.swatches[0]!, color: inks };
    const written = new TextDecoder().decode(
      cxf.encode(
        { ...fleet, groups: [{ id: 'g', name: '', swatches: [spot] }] },
        { ...services, now: '2026-11-26T09:00:00Z' },
      ),
    );
    const parser = new XMLParser({ removeNSPrefix: true });
    const { CxF } = parser.parse(written);
    const { ColorValues, CreationDate } = CxF.Resources.ObjectCollection.Object;
    const [L, a, b] = toLab(inks, coated);
    expect([ColorValues.ColorCIELab.L, ColorValues.ColorCIELab.A, ColorValues.ColorCIELab.B]).toEqual([
      L,
      a,
      b,
    ]);
    expect([CreationDate, CxF.FileInformation.CreationDate]).toEqual([
      '2026-11-26T09:00:00Z',
      '2026-11-26T09:00:00Z',
    ]);
    // the file names the print condition that its inks are for
    expect(readBy(cxf, written).swatches[0]!.color).toEqual({ ...inks, profile: SHIPPED.coated });
  });

  it('leaves one bad object out, and tells what is for Papillon only', async () => {
    const { swatches, warnings } = inFile(
      '<Object Name="Bad"><ColorValues><ColorCIELab><L>x</L><A>0</A><B>0</B></ColorCIELab></ColorValues></Object><Object Name="Good"><ColorValues><ColorCIELab><L>50</L><A>0</A><B>0</B></ColorCIELab></ColorValues></Object>',
    );
    expect(swatches.map((s) => s.name)).toEqual(['Good']);
    expect(warnings).toEqual([expect.stringMatching(/L of “Bad” “x” is not a number/)]);
    const report = await compareWritten(fleet, cxf.encode(fleet, services), cxf, coated);
    const only = report.changes.filter((c) => c.papillonOnly).map((c) => `${c.swatch} ${c.what}`);
    expect(only).toEqual(expect.arrayContaining(['Boot-top red code', 'Boot-top red role', 'Cutting kind']));
    expect(report.changes.some((c) => c.what === 'note')).toBe(false);
  });

  it('keeps Lab for another white, and says so in its own specification, as fast-xml-parser reads it', () => {
    const color = { space: 'lab' as const, components: [50, 20, 30], white: 'D65/10' as const };
    const one = {
      ...fleet,
      groups: [{ id: 'g', name: '', swatches: [{ ...fleet.groups[1].swatches[0], color }] }],
    };
    const { swatches, warnings } = readBy(cxf, writeBy(cxf, one));
    expect(swatches[0].color).toEqual(color);
    expect(warnings.join()).toMatch(/D65\/10°/);
    const parser = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '@', removeNSPrefix: true });
    const { CxF } = parser.parse(writeBy(cxf, one));
    const id = CxF.Resources.ObjectCollection.Object.ColorValues.ColorCIELab['@ColorSpecification'];
    const spec = CxF.Resources.ColorSpecificationCollection.ColorSpecification.find(
      (s: Record<string, string>) => s['@Id'] === id,
    );
    expect(spec.TristimulusSpec).toMatchObject({ Illuminant: 'D65', Observer: '10_Degree' });
  });
});
