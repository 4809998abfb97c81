import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { FormatError, lastPart, plainName } from '../core/formats/index.ts';
import { makeFolder, replace, type Streams } from './files.ts';

/** A file of a link is not larger, in bytes. */
const MAX_BYTES = 256 * 1024 * 1024;
/** So long an answer may take, ms. */
const MAX_MS = 120_000;

/** A link that is followed. */
interface Followed {
  url: string;
  etag: string | null;
  /** What was reported last, so that it is reported once. */
  said: string;
  ended: boolean;
}

/** An address of a link. @throws FormatError */
export function asLink(text: string): string {
  try {
    const url = new URL(text);
    if (url.protocol === 'http:' || url.protocol === 'https:') return url.href;
  } catch {
    // said below
  }
  throw new FormatError(`“${text}” is not the address of a link. Copy one from Share: https://…/f/….`);
}

/** The name a file is sent with, else the last part of its address; never a path. */
function nameOf(disposition: string | null, url: string): string {
  const sent = /filename\*=UTF-8''([^;]+)/i.exec(disposition ?? '')?.[1];
  const own = new URL(url).pathname;
  for (const text of [sent, lastPart(own)])
    try {
      const name = text && plainName(lastPart(decodeURIComponent(text)));
      if (name) return name;
    } catch {
      // percent signs that mean nothing
    }
  return 'swatches';
}

/** Whatever is wrong with a link now, in words for the shell. */
async function problemOf(response: Response): Promise<string> {
  const text = (await response.text().catch(() => '')).trim().slice(0, 300);
  return text || `the server returned error ${response.status}`;
}

/**
 * Fetches the files of links into a folder, and again whenever they have changed, each written in one move. A link that opens nothing
 * any more is reported, and its file stays.
 *
 * @param every seconds between two looks; null looks once
 * @returns whether all links gave their file, or ended because they were stopped
 */
export async function followLinks(
  urls: readonly string[],
  out: string,
  every: number | null,
  wrote: (file: string, url: string) => void,
  { err, stop }: Streams,
): Promise<boolean> {
  await makeFolder(out);
  const links: Followed[] = urls.map((url) => ({ url, etag: null, said: '', ended: false }));
  const say = (link: Followed, text: string) => {
    if (link.said !== text) err(`${link.url}: ${text}\n`);
    link.said = text;
  };
  async function fetchOne(link: Followed): Promise<void> {
    const headers: Record<string, string> = link.etag ? { 'If-None-Match': link.etag } : {};
    const signals = [AbortSignal.timeout(MAX_MS), ...(stop ? [stop] : [])];
    let response: Response;
    let bytes: Uint8Array | null = null;
    try {
      response = await fetch(link.url, { headers, signal: AbortSignal.any(signals) });
      if (response.status === 200) {
        if (Number(response.headers.get('Content-Length') ?? 0) > MAX_BYTES)
          throw new FormatError(`the file is larger than ${MAX_BYTES / 1024 / 1024} MB.`);
        bytes = new Uint8Array(await response.arrayBuffer());
      }
    } catch (error) {
      if (stop?.aborted) return;
      return say(
        link,
        error instanceof FormatError ? error.message : 'the server does not answer; it is asked again.',
      );
    }
    if (response.status === 304) {
      link.said = '';
      return;
    }
    if (!bytes) {
      link.ended = response.status === 404;
      return say(link, await problemOf(response));
    }
    const file = join(out, nameOf(response.headers.get('Content-Disposition'), link.url));
    try {
      await replace(file, bytes);
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      return say(link, error.message);
    }
    link.etag = response.headers.get('ETag');
    link.said = '';
    wrote(file, link.url);
  }
  for (;;) {
    await Promise.all(links.filter((l) => !l.ended).map(fetchOne));
    if (stop?.aborted) return true;
    if (every === null) return links.every((l) => l.said === '');
    if (links.every((l) => l.ended)) return false;
    await wait(every * 1000, null, stop ? { signal: stop } : {}).catch(() => undefined);
    if (stop?.aborted) return true;
  }
}
