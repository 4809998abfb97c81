import { lentHere } from '../cli/engine.ts';
import { fromRgb8 } from '../core/color/index.ts';
import { png } from '../core/formats/png/png.ts';
import { ase } from '../core/formats/ase/ase.ts';
import { gpl } from '../core/formats/gpl/gpl.ts';
import { formats, openSwatchFile, writeAs } from '../core/formats/index.ts';
import { countingIds } from '../core/swatch/model.ts';
import aseUtils from 'ase-utils';
const lent = await lentHere();
const lib = (n: number, grouped = false) => ({ id: 'l', name: 'x', groups: grouped ? Array.from({length: n/1000},(_,g)=>({id:'g'+g,name:'G'+g,swatches:sw(1000)})) : [{ id: 'g', name: '', swatches: sw(n) }] });
const sw = (n: number) => Array.from({ length: n }, (_, i) => ({ id: `${i}`, name: `Swatch ${i}`, kind: 'process' as const, color: fromRgb8((i * 7) & 255, (i * 11) & 255, (i * 13) & 255) }));
const t = async (name: string, f: () => unknown) => { const s = performance.now(); await f(); console.log(name, Math.round(performance.now() - s)); };
if (process.argv[2] === 'png') {
  await t('png bare', () => png.encode(lib(5000), lent));
  await t('png names', () => png.encode(lib(5000), lent, { names: true }));
} else {
  const n = 100_000;
  for (const id of (process.argv[2] ?? 'ase').split(',')) {
    const f = formats.find((x) => x.id === id)!;
    const bytes = await writeAs(f, lib(Math.min(n, f.traits.most ?? n)), lent);
    for (let k = 0; k < 3; k++) await t(`${id} read`, () => openSwatchFile(bytes, 'x', countingIds()));
    if (id === 'ase') for (let k = 0; k < 3; k++) await t('ase-utils', () => aseUtils.decode(Buffer.from(bytes)));
  }
}
