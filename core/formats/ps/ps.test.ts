import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readBy, recognisedAs } from '../../testing.ts';
import { ps } from './ps.ts';

const colors = (text: string | Uint8Array) =>
  readBy(ps, text).swatches.map((s) => [s.name, s.kind, s.color.space, s.color.components]);

// operators, comments and spaces as the PostScript Language Reference and the Document Structuring Conventions have them
const drawing = `%!PS
%%Title: (Fleet)
%%DocumentProcessColors: Cyan Black
%%DocumentCustomColors: (Hull red)
%%+ (Varnish)
%%CMYKCustomColor: 0 0.9 0.8 0.05 (Hull red)
%%+ 1 0.5 0 0.2 (Deep \\(sea\\))
%%RGBCustomColor: 0.85 0.64 0.25 (Brass)
%%EndComments
/k { setcmykcolor } bind def /rg {setrgbcolor} def /g /setgray load def
% 0.9 0.9 0.9 setrgbcolor is a remark
(1 0 0 setrgbcolor \\) is a text) show
0 0.5 1 0 k newpath 0 0 moveto 10 10 lineto fill
0.2 0.4 0.6 rg fill .5 g fill
0.5 1 0.5 sethsbcolor fill
/DeviceCMYK setcolorspace 0.1 0 0 0 setcolor
[/Separation (Signal) /DeviceCMYK { dup 0.3 mul exch dup 0 mul exch dup 1 mul exch 0.1 mul }] setcolorspace 0.5 setcolor
0 0.5 1 0 k
%%BeginData: 20 Hex Bytes
1 1 0 setrgbcolor
%%EndData
200 10 10 setrgbcolor
%%EOF
`;

describe('PostScript', () => {
  it('gives spot colours by its comments and spaces, and what its operators set, each once', () => {
    const { library, warnings } = readBy(ps, drawing);
    expect(library.name).toBe('Fleet');
    expect(library.groups.map((g) => g.name)).toEqual(['Spot colours', 'Process colours']);
    expect(colors(drawing)).toEqual([
      ['Hull red', 'spot', 'cmyk', [0, 0.9, 0.8, 0.05]],
      ['Deep (sea)', 'spot', 'cmyk', [1, 0.5, 0, 0.2]],
      ['Brass', 'spot', 'rgb', [0.85, 0.64, 0.25]],
      ['Signal', 'spot', 'cmyk', [0.3, 0, 1, 0.1]],
      ['', 'process', 'cmyk', [0, 0.5, 1, 0]],
      ['', 'process', 'rgb', [0.2, 0.4, 0.6]],
      ['', 'process', 'gray', [0.5]],
      ['', 'process', 'hsb', [180, 1, 0.5]],
      ['', 'process', 'cmyk', [0.1, 0, 0, 0]],
    ]);
    expect(warnings).toEqual([expect.stringMatching(/what stands for it, so left out: Varnish/)]);
    expect(recognisedAs(drawing)).toBe('ps');
  });

  // Debian's ghostscript runs what is only read here, where it is at hand
  it.skipIf(!existsSync('/usr/bin/gs'))('sets what ghostscript sets', () => {
    const probe = '/probe { currentcmykcolor 4 array astore == } def';
    const run = (setting: string) =>
      execFileSync('gs', ['-q', '-dNODISPLAY', '-dBATCH', '-dNOPAUSE', '-'], {
        input: `${probe} /k { setcmykcolor } bind def ${setting} probe\n`,
        encoding: 'utf8',
      });
    for (const setting of [
      '0 0.5 1 0 k',
      '/DeviceCMYK setcolorspace 0.1 0 0 0 setcolor',
      '0.25 0 0.75 0.5 setcmykcolor',
    ]) {
      const [, , , components] = colors(`%!PS\n/k { setcmykcolor } bind def\n${setting}\n`)[0]!;
      const theirs = run(setting)
        .match(/[\d.]+/g)!
        .map(Number);
      (components as number[]).forEach((v, i) => {
        expect(v).toBeCloseTo(theirs[i]!, 4);
      });
    }
  });

  it('with a preview is read from where its header says, and one that is cut short is not', () => {
    const text = new TextEncoder().encode(drawing);
    const file = new Uint8Array(30 + text.length);
    const view = new DataView(file.buffer);
    view.setUint32(0, 0xc5d0d3c6);
    view.setUint32(4, 30, true);
    view.setUint32(8, text.length, true);
    file.set(text, 30);
    expect(colors(file)).toEqual(colors(drawing));
    expect(recognisedAs(file)).toBe('ps');
    expect(() => readBy(ps, file.subarray(0, 200))).toThrow(/cut short/);
    expect(() => readBy(ps, '%!PS\n0 0 moveto\n')).toThrow(/nothing in it sets a colour/);
  });
});
