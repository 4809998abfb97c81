import { fromRgb8, NearIndex, screenOnly, toLab } from '../../color/index.ts';

/** Six digits for each number from 1 on, as the package ezdxf 1.4 publishes them (`ezdxf.colors.DXF_DEFAULT_COLORS`). */
const TABLE = [
  'ff0000ffff0000ff0000ffff0000ffff00ffffffff808080c0c0c0ff0000ff7f7fa50000a552527f00007f3f3f4c00004c2626',
  '260000261313ff3f00ff9f7fa52900a567527f1f007f4f3f4c13004c2f26260900261713ff7f00ffbf7fa55200a57c527f3f00',
  '7f5f3f4c26004c3926261300261c13ffbf00ffdf7fa57c00a591527f5f007f6f3f4c39004c4226261c00262113ffff00ffff7f',
  'a5a500a5a5527f7f007f7f3f4c4c004c4c26262600262613bfff00dfff7f7ca50091a5525f7f006f7f3f394c00424c261c2600',
  '2126137fff00bfff7f52a5007ca5523f7f005f7f3f264c00394c261326001c26133fff009fff7f29a50067a5521f7f004f7f3f',
  '134c002f4c2609260017261300ff007fff7f00a50052a552007f003f7f3f004c00264c2600260013261300ff3f7fff9f00a529',
  '52a567007f1f3f7f4f004c13264c2f00260913581700ff7f7fffbf00a55252a57c007f3f3f7f5f004c26264c3900261313581c',
  '00ffbf7fffdf00a57c52a591007f5f3f7f6f004c39264c4200261c13585800ffff7fffff00a5a552a5a5007f7f3f7f7f004c4c',
  '264c4c00262613585800bfff7fdfff007ca55291a5005f7f3f6f7f00394c26427e001c26135858007fff7fbfff0052a5527ca5',
  '003f7f3f5f7f00264c26397e001326131c58003fff7f9fff0029a55267a5001f7f3f4f7f00134c262f7e0009261317580000ff',
  '7f7fff0000a55252a500007f3f3f7f00004c26267e0000261313583f00ff9f7fff2900a56752a51f007f4f3f7f13004c2f267e',
  '0900261713587f00ffbf7fff5200a57c52a53f007f5f3f7f26004c39267e1300261c1358bf00ffdf7fff7c00a59152a55f007f',
  '6f3f7f39004c42264c1c0026581358ff00ffff7fffa500a5a552a57f007f7f3f7f4c004c4c264c260026581358ff00bfff7fdf',
  'a5007ca552917f005f7f3f6f4c00394c264226001c581358ff007fff7fbfa50052a5527c7f003f7f3f5f4c00264c2639260013',
  '58131cff003fff7f9fa50029a552677f001f7f3f4f4c00134c262f260009581317000000656565666666999999ccccccffffff',
].join('');

type Rgb8 = [number, number, number];

/** The indexed colours of DXF by their number, 1–255, as 8-bit RGB; 0 means nothing. Programs differ in some of the dark ones. */
export const INDEXED: Rgb8[] = Array.from({ length: 256 }, (_, i): Rgb8 => {
  const value = i === 0 ? 0 : Number.parseInt(TABLE.slice(6 * (i - 1), 6 * i), 16);
  return [value >> 16, (value >> 8) & 255, value & 255];
});

let known: NearIndex | null = null;

/** The number of the indexed colour nearest to an 8-bit one by CIEDE2000. White is 7, which programs draw black on white paper. */
export function nearestIndexed(rgb: Rgb8): number {
  known ??= new NearIndex(INDEXED.slice(1).map((c) => toLab(fromRgb8(...c), screenOnly)));
  return known.closest(toLab(fromRgb8(...rgb), screenOnly))!.place + 1;
}
