import { joined } from '../../core/join.ts';
import { MB, USUAL_BYTES } from '../../core/sizes.ts';
import { Turns } from '../turns.ts';

/** What a request sends is too much, or is not readable. */
export class BodyError extends Error {
  override name = 'BodyError';
  constructor(
    readonly status: 400 | 413,
    message: string,
  ) {
    super(message);
  }
}

/** Deeper than anything that is sent here. */
const MAX_DEPTH = 64;
/** More values than a library of that size has; counted before anything is made of them, since each takes its memory. */
const MAX_OBJECTS = 2_000_000;
const MAX_VALUES = 12_000_000;
/** At most this many large bodies are read at once, so that many take no more memory; not one alone, which a slow sender could hold. */
const large = new Turns(3);

const inMB = (bytes: number) => `${Math.round((bytes / MB) * 10) / 10} MB`;

/**
 * The JSON of a request, refused before it is read when it is too large, and before it is parsed when it is not sound JSON for
 * this place. The limit is what the route needs.
 * @throws BodyError
 */
export async function readJson(request: Request, most = USUAL_BYTES): Promise<unknown> {
  const isLarge =
    Number(request.headers.get('Content-Length') ?? Number.POSITIVE_INFINITY) > USUAL_BYTES &&
    most > USUAL_BYTES;
  const end = isLarge ? await large.take() : null;
  try {
    const bytes = await readBytes(request, most);
    return jsonOf(bytes);
  } finally {
    end?.();
  }
}

/** Parses JSON from outside. @throws BodyError */
export function jsonOf(sent: string | Uint8Array): unknown {
  const bytes = typeof sent === 'string' ? new TextEncoder().encode(sent) : sent;
  checkExtent(bytes);
  try {
    return JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch {
    throw new BodyError(400, 'What was sent is no JSON, or is cut off.');
  }
}

/** A form with files in it. @throws BodyError */
export async function readForm(request: Request, most: number): Promise<FormData> {
  const bytes = await readBytes(request, most);
  const type = request.headers.get('Content-Type') ?? '';
  try {
    return await new Response(bytes, { headers: { 'Content-Type': type } }).formData();
  } catch {
    throw new BodyError(400, 'What was sent is not a form, or is incomplete.');
  }
}

/** The bytes of a request, up to a limit. @throws BodyError */
export async function readBytes(request: Request, most: number): Promise<Uint8Array<ArrayBuffer>> {
  const said = Number(request.headers.get('Content-Length') ?? 0);
  const tooLarge = (bytes: number) =>
    new BodyError(
      413,
      `This is ${inMB(bytes)} or more; up to ${inMB(most)} can be sent here. Send it in parts.`,
    );
  if (said > most) throw tooLarge(said);
  const parts: Uint8Array[] = [];
  let length = 0;
  // Node's streams can be read so, which the DOM's types do not know
  const stream = request.body as (typeof request.body & AsyncIterable<Uint8Array>) | null;
  for await (const part of stream ?? []) {
    length += part.length;
    // the rest is read and let go: to break off would cut the connection before the answer
    if (length > most) parts.length = 0;
    else parts.push(part);
  }
  if (length > most) throw tooLarge(length);
  return joined(parts);
}

const [QUOTE, COMMA, BRACKET, BACKSLASH, BRACKET_END, BRACE, BRACE_END] = [
  0x22, 0x2c, 0x5b, 0x5c, 0x5d, 0x7b, 0x7d,
];

/** Refuses JSON that lies too deep or holds more values than anything that belongs here. @throws BodyError */
export function checkExtent(bytes: Uint8Array): void {
  let depth = 0;
  let objects = 0;
  let values = 0;
  for (let i = 0; i < bytes.length; i++) {
    const c = bytes[i];
    if (c === QUOTE) {
      for (i++; i < bytes.length && bytes[i] !== QUOTE; i++) if (bytes[i] === BACKSLASH) i++;
    } else if (c === COMMA) values++;
    else if (c === BRACKET || c === BRACE) {
      objects++;
      if (++depth > MAX_DEPTH)
        throw new BodyError(400, `Values lie more than ${MAX_DEPTH} deep in what was sent.`);
    } else if (c === BRACKET_END || c === BRACE_END) depth--;
  }
  if (objects > MAX_OBJECTS || values > MAX_VALUES)
    throw new BodyError(413, 'What was sent holds more values than any library has. Send it in parts.');
}
