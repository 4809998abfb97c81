import { XMLParser } from 'fast-xml-parser';
import { describe, expect, it } from 'vitest';
import type { Library } from '../../swatch/model.ts';
import { fleet, lent, readBy, writeBy } from '../../testing.ts';
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

describe('CxF/X-3', () => {
  it('keeps what a tint is of', () => {
    const [ink] = fleet.groups[1].swatches;
    const tint = { of: 'Boot-top "red" & more', percent: 37.5 };
    const library = { ...fleet, groups: [{ id: 'g', name: '', swatches: [{ ...ink, tint }] }] };
    expect(readBy(cxf, writeBy(cxf, library)).swatches[0].tint).toEqual(tint);
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
    const { ColorCIELab, ColorCMYK, ReflectanceSpectrum } = object.ColorValues;
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
    const { swatches } = readBy(cxf, cxf.encode(measured, lent));
    expect(swatches[0]).toMatchObject({ ...measured.groups[0].swatches[0], id: expect.anything() });
    expect(readBy(cxf, cxf.encode(fleet, lent)).library.groups.map((g) => g.name)).toEqual(['', 'Hull']);
    expect(readBy(cxf, cxf.encode(fleet, lent)).swatches.map((s) => s.kind)).toEqual(
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
    expect(() => readBy(cxf, writeBy(cxf, fleet).replace('<cc:L>40</cc:L>', '<cc:L>NaN</cc:L>'))).toThrow(
      /line \d+: L of “Boot-top red” “NaN” is no number/,
    );
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
