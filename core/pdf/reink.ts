import { type Condition, convert, type Lab, toLab } from '../color/index.ts';
import { PdfArtwork } from './artwork.ts';
import { colorOfInks } from './ink-spaces.ts';
import { PROCESS } from './plates.ts';
import { type Becoming, repainted } from './recolor.ts';

// Inks changed where they are painted: what cannot be done in colour spaces alone.

type Amounts = ReadonlyMap<string, number>;

/** What a PDF becomes, and what in it stays, in words. */
export interface Reinked {
  bytes: Uint8Array<ArrayBuffer>;
  warnings: string[];
}

/** Paints everything that has an ink in what becomes of its inks, gradients and pictures included. */
async function reinked(
  bytes: Uint8Array,
  ink: string,
  map: (amounts: Amounts, solids: ReadonlyMap<string, Lab>) => Amounts,
  condition: Condition,
): Promise<Reinked> {
  const artwork = await PdfArtwork.open(bytes, condition);
  const labs = new Map([...artwork.solids].map(([name, color]) => [name, toLab(color, condition)]));
  const changes = new Map<number, Becoming>();
  for (const { id, inks } of artwork.parts)
    if (inks?.has(ink)) changes.set(id, { color: colorOfInks({ amounts: map(inks, labs), labs }) });
  const known = artwork.warnings.length;
  const made = await repainted(artwork, changes, {
    condition,
    reink: { ink, labs, map: (amounts) => map(amounts, labs) },
  });
  return { bytes: made, warnings: artwork.warnings.slice(known) };
}

/** Two parts of ink, one laid over the other. */
const together = (a: number, b: number) => 1 - (1 - a) * (1 - b);

/** Prints an ink in process inks, as they are under a print condition. */
export const toProcess = (bytes: Uint8Array, ink: string, condition: Condition): Promise<Reinked> =>
  reinked(
    bytes,
    ink,
    (amounts, solids) => {
      const rest = new Map([...amounts].filter(([name]) => name !== ink));
      const lab = solids.get(ink) ?? [100, 0, 0];
      const amount = amounts.get(ink) ?? 0;
      // paper stays paper: the profile may give its white a trace of ink
      if (amount === 0) return new Map([...PROCESS.map((n) => [n, 0] as const), ...rest]);
      // a tint lies on the way from paper to the solid
      const tint = [100 + amount * (lab[0] - 100), amount * lab[1], amount * lab[2]];
      const { components } = convert({ space: 'lab', components: tint }, 'cmyk', condition);
      PROCESS.forEach((name, i) => {
        const own = Math.min(1, Math.max(0, components[i]!));
        rest.set(name, together(rest.get(name) ?? 0, own));
      });
      return rest;
    },
    condition,
  );

/** Prints an ink on the plate of another, where the two are mixed with each other, too. */
export const mergedInks = (
  bytes: Uint8Array,
  from: string,
  into: string,
  condition: Condition,
): Promise<Reinked> =>
  reinked(
    bytes,
    from,
    (amounts) => {
      const rest = new Map([...amounts].filter(([name]) => name !== from));
      return rest.set(into, Math.min(1, (rest.get(into) ?? 0) + (amounts.get(from) ?? 0)));
    },
    condition,
  );

/** Prints an ink over what lies below it, on other plates. */
export async function overprinted(bytes: Uint8Array, ink: string, condition: Condition): Promise<Reinked> {
  const artwork = await PdfArtwork.open(bytes, condition);
  const changes = new Map<number, Becoming>();
  for (const { id, inks, role } of artwork.parts)
    if (role !== 'stop' && inks?.has(ink)) changes.set(id, { over: true });
  return { bytes: await repainted(artwork, changes, { condition }), warnings: [] };
}
