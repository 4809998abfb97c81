import { deviceOf } from '../color/index.ts';
import type { Options } from '../options.ts';
import type { NewId } from '../swatch/model.ts';
import { FormatError } from '../text/error.ts';
import { baseName, lastPart } from '../text/names.ts';
import { acb } from './acb/acb.ts';
import { aco } from './aco/aco.ts';
import { act } from './act/act.ts';
import { ase } from './ase/ase.ts';
import { assetCatalogue } from './asset-catalogue/asset-catalogue.ts';
import { cgats } from './cgats/cgats.ts';
import { clr } from './clr/clr.ts';
import { cpt } from './cpt/cpt.ts';
import { css } from './css/css.ts';
import { csv } from './csv/csv.ts';
import { cxf } from './cxf/cxf.ts';
import { dxf } from './dxf/dxf.ts';
import { type Decoded, type Format, PartlyRead, withId } from './format.ts';
import { ggr } from './ggr/ggr.ts';
import { gltf } from './gltf/gltf.ts';
import { gpl } from './gpl/gpl.ts';
import { hex } from './hex/hex.ts';
import { iccNamed } from './icc-named/icc-named.ts';
import { jascPal } from './jasc-pal/jasc-pal.ts';
import { kpl } from './kpl/kpl.ts';
import { layoutXml } from './layout-xml/layout-xml.ts';
import { materialx } from './materialx/materialx.ts';
import { mtl } from './mtl/mtl.ts';
import { odf } from './odf/odf.ts';
import { ods } from './ods/ods.ts';
import { officeTheme } from './office-theme/office-theme.ts';
import { papillon } from './papillon/papillon.ts';
import { pdf } from './pdf/pdf.ts';
import { png } from './png/png.ts';
import { ps } from './ps/ps.ts';
import { resources } from './resources/resources.ts';
import { riffPal } from './riff-pal/riff-pal.ts';
import { sld } from './sld/sld.ts';
import { soc } from './soc/soc.ts';
import { strip } from './strip/strip.ts';
import { stylus } from './stylus/stylus.ts';
import { svg } from './svg/svg.ts';
import { tablet } from './tablet/tablet.ts';
import { theme } from './theme/theme.ts';
import { threeMf } from './three-mf/three-mf.ts';
import { tokens } from './tokens/tokens.ts';
import { toml } from './toml/toml.ts';
import { usda } from './usda/usda.ts';
import { less, scss } from './variables/variables.ts';
import { wif } from './wif/wif.ts';
import { xlsx } from './xlsx/xlsx.ts';
import { yaml } from './yaml/yaml.ts';

/** Every format there is. A new one is a folder and a place in this list. */
export const formats: Format[] = [
  ase,
  aco,
  act,
  gpl,
  hex,
  css,
  acb,
  riffPal,
  jascPal,
  soc,
  tablet,
  csv,
  tokens,
  papillon,
  cxf,
  cgats,
  iccNamed,
  svg,
  png,
  ggr,
  strip,
  pdf,
  dxf,
  mtl,
  gltf,
  scss,
  less,
  theme,
  resources,
  assetCatalogue,
  officeTheme,
  kpl,
  layoutXml,
  clr,
  yaml,
  toml,
  xlsx,
  ods,
  cpt,
  sld,
  wif,
  materialx,
  usda,
  threeMf,
  odf,
  ps,
  stylus,
];

/** Those that can be opened, and those that can be written. */
export const readable = formats.filter((f) => f.traits.read);
export const writable = formats.filter((f) => f.traits.write);

/** @throws FormatError for an unknown format */
export const formatById = (id: string): Format => withId(formats, id);

/** The format that a file of this name is written in, by its ending; the longest that fits counts. */
export function formatByEnding(path: string): Format | null {
  const name = path.toLowerCase();
  let best: { format: Format; length: number } | null = null;
  for (const format of writable)
    for (const ending of format.endings)
      if (name.endsWith(`.${ending}`) && ending.length > (best?.length ?? 0))
        best = { format, length: ending.length };
  return best?.format ?? null;
}

/** The format the bytes are most surely of, whatever the file is called; null when of none. */
export function recognise(bytes: Uint8Array): Format | null {
  let best: Format | null = null;
  let sureness = 0;
  for (const format of readable) {
    const s = format.recognise(bytes);
    if (s > sureness) [best, sureness] = [format, s];
  }
  return best;
}

/** Swatch files are small; anything larger is something else, and is not read into memory. */
const MAX_SWATCH_FILE_BYTES = 64 * 1024 * 1024;
/** Our own hold everything, as spectra of as many swatches as a library may have. */
const MAX_OWN_FILE_BYTES = 256 * 1024 * 1024;

/** Why a file of this size is not read; null when it is. @param head its first 200 bytes, or more */
export function tooLarge(head: Uint8Array, size: number): string | null {
  const most = papillon.recognise(head) ? MAX_OWN_FILE_BYTES : MAX_SWATCH_FILE_BYTES;
  if (size <= most) return null;
  return `the file has ${Math.round(size / 1e6)} MB; a swatch file has at most ${Math.round(most / 1e6)} MB, so this must be something else.`;
}

export interface Opened extends Decoded {
  format: Format;
}

/**
 * Reads a swatch file of any known format, recognised by its bytes. The library is named after the file when
 * the format carries no name.
 * @param name the file's name, for the library's name and for messages only
 * @throws FormatError whose message begins with the file's name
 */
export async function openSwatchFile(
  bytes: Uint8Array,
  name: string,
  newId: NewId,
  as?: Format,
  options?: Options,
): Promise<Opened> {
  const fail = (why: string) => new FormatError(`${name}: ${why}`);
  if (bytes.length === 0) throw fail('the file is empty (0 bytes). Export or download it again.');
  const large = tooLarge(bytes, bytes.length);
  if (large) throw fail(large);
  const format = as ?? recognise(bytes);
  if (!format) {
    const device = deviceOf(bytes);
    if (device)
      throw fail(
        `it is the ICC profile of ${device}, and holds no swatches. Add those of presses on the page of print profiles.`,
      );
    const clues = readable.flatMap((f) => (f.clue ? [`${f.clue}; `] : [])).join('');
    throw fail(
      `this is neither a picture nor a swatch file that Papillon knows. It reads ${readable.map((f) => f.name).join(', ')}, recognised by content. ${clues}this has ${bytes.length}.`,
    );
  }
  try {
    return named(await format.decode(bytes, newId, options), format, name);
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    const message = `${name}: read as ${format.name}, ${error.message}`;
    throw error instanceof PartlyRead
      ? new PartlyRead(message, named(error.sound, format, name))
      : new FormatError(message);
  }
}

/** A decoded file with its name where the format has none, and the origin of each swatch. */
function named({ library, ...came }: Decoded, format: Format, name: string): Opened {
  const origin = { from: 'file' as const, name: lastPart(name), format: format.id };
  library.name ||= baseName(name);
  // what was just decoded is nobody else's yet
  for (const group of library.groups) for (const swatch of group.swatches) swatch.origin ??= origin;
  return { format, library, ...came };
}
