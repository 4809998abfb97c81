import { createHash } from 'node:crypto';
import { factsById, writableFacts } from '../core/formats/plan.ts';
import type { Options } from '../core/options.ts';
import type { Library } from '../core/swatch/index.ts';
import { fileName } from '../core/text/names.ts';
import { type Asset, dropUnused, readAsset } from './assets.ts';
import { RefusedError } from './changes.ts';
import { type Db, write } from './db.ts';
import { encoded } from './encode.ts';
import { readLibrary } from './libraries.ts';
import type { FileLink, LinkData, OpenLink, PageLink } from './links.ts';
import { allowedFormats, partToShare, sharedLibrary } from './shared.ts';

/** A file as it is sent. */
export interface MadeFile {
  bytes: Uint8Array<ArrayBuffer>;
  mime: string;
  name: string;
  /** Of these bytes, as HTTP has it. */
  etag: string;
}

/** Files that were asked for lately are not written again while their library stays as it is, in bytes. */
const MAX_KEPT_BYTES = 64 * 1024 * 1024;
const kept = new Map<string, Promise<MadeFile>>();
const sizes = new Map<string, number>();

const made = (bytes: Uint8Array<ArrayBuffer>, format: string, name: string): MadeFile => {
  const { mime, endings } = factsById(format);
  const etag = `"${createHash('sha256').update(bytes).digest('base64url').slice(0, 27)}"`;
  return { bytes, mime, name: fileName(name, endings[0]), etag };
};

/** What was made under a key, or is now; the least lately asked for goes when there is too much. */
function once(key: string, make: () => Promise<MadeFile>): Promise<MadeFile> {
  const known = kept.get(key);
  const file = known ?? make();
  kept.delete(key);
  kept.set(key, file);
  if (known !== undefined) return file;
  file.then(
    ({ bytes }) => {
      sizes.set(key, bytes.length);
      let total = [...sizes.values()].reduce((a, b) => a + b, 0);
      for (const oldest of [...kept.keys()]) {
        if (total <= MAX_KEPT_BYTES || oldest === key) break;
        total -= sizes.get(oldest) ?? 0;
        kept.delete(oldest);
        sizes.delete(oldest);
      }
    },
    () => kept.delete(key),
  );
  return file;
}

/** A library, or some of its groups with what is made of their swatches alone. */
async function inGroups(db: Db, library: string, groups: string[] | null): Promise<Library | null> {
  const whole = await readLibrary(db, library);
  if (!whole || !groups) return whole;
  const swatches = whole.groups.filter((g) => groups.includes(g.id)).flatMap((g) => g.swatches);
  const ids = new Set(swatches.map((s) => s.id));
  const items = (whole.items ?? []).filter(
    ({ refs = [] }) => refs.length > 0 && refs.every((r) => ids.has(r)),
  );
  return partToShare(whole, ids, items, whole.name);
}

/** The file of a link as it is now, or was when it was pinned; null when what it is of is gone. */
export async function fileOfLink(
  db: Db,
  { id, data, library }: OpenLink<FileLink>,
): Promise<MadeFile | null> {
  const { format, options = {} } = data.file;
  const { pinned } = data;
  if (pinned) {
    const asset = await readAsset(db, pinned.hash);
    return asset && made(new Uint8Array(asset.bytes), format, library.name);
  }
  const key = JSON.stringify([id, library.seq, data]);
  const known = kept.get(key);
  if (known !== undefined) return once(key, () => known);
  const part = await inGroups(db, library.id, data.groups);
  if (!part) return null;
  return once(key, async () =>
    made(await encoded(db, part, format, options, library.changedAt), format, part.name),
  );
}

/** A download of a link; null when it does not allow the format, or its board is gone. */
export async function downloadOfLink(
  db: Db,
  link: OpenLink<PageLink>,
  format: string,
): Promise<MadeFile | null> {
  if (!allowedFormats(link.data).some((f) => f.id === format)) return null;
  const key = JSON.stringify([link.id, link.library.seq, link.data.board, format]);
  const known = kept.get(key);
  if (known !== undefined) return once(key, () => known);
  const part = await sharedLibrary(db, link);
  if (!part) return null;
  return once(key, async () =>
    made(await encoded(db, part, format, {}, link.library.changedAt), format, part.name),
  );
}

/** A request to keep the file of a link as it is now. */
export const PIN_NOW = { hash: '', at: 0 };

/**
 * What is kept of a link, from what was asked: its format is one that is written, and a file to be pinned is there to be kept with it.
 * @param before what the link was
 */
export async function linkFrom(
  db: Db,
  libraryId: string,
  asked: LinkData,
  before: LinkData | null,
): Promise<{ data: LinkData; pinned: Asset | null }> {
  const formats = asked.is === 'page' ? (asked.formats ?? []) : [asked.file.format];
  for (const format of formats)
    if (!writableFacts.some((f) => f.id === format))
      throw new RefusedError(`“${format}” is not a format that Papillon writes.`);
  if (asked.is === 'page' || !asked.pinned) return { data: asked, pinned: null };
  const was = before?.is === 'file' ? before.pinned : null;
  if (asked.pinned.hash !== '') {
    if (was?.hash !== asked.pinned.hash) throw new RefusedError('This file is not kept for this link.');
    return { data: { ...asked, pinned: was }, pinned: null };
  }
  const part = await inGroups(db, libraryId, asked.groups);
  if (!part) throw new RefusedError('This library does not exist.', 'never');
  const options: Options = asked.file.options ?? {};
  const now = new Date();
  const bytes = await encoded(db, part, asked.file.format, options, now);
  const { mime } = factsById(asked.file.format);
  const hash = createHash('sha256').update(bytes).digest('hex');
  return { data: { ...asked, pinned: { hash, at: now.getTime() } }, pinned: { mime, bytes } };
}

/** Lets go of pinned files that no link has any more. */
export const dropPinned = (db: Db): Promise<void> => write(db, (tx) => dropUnused(tx));
