import { bring, localServices } from '../cli/engine.ts';
import { formatById, partsOf, writeAs } from '../core/formats/index.ts';
import type { Options } from '../core/options.ts';
import type { Library } from '../core/swatch/index.ts';

/** A file to be written. */
export interface EncodeJob {
  library: Library;
  /** ICC profiles that are not shipped, which the library or its colours name. */
  profiles: Uint8Array[];
  format: string;
  options: Options;
  /** The time that files say they are of, ISO 8601: the same state gives the same bytes. */
  now: string;
}

export interface EncodeAnswer {
  id: number;
  made: { bytes: Uint8Array<ArrayBuffer> } | { why: string } | { failed: string };
}

/** Writes a file as it was asked for, or gives the reason why it cannot. */
export async function encodeFile(job: EncodeJob): Promise<EncodeAnswer['made']> {
  const { library, profiles, format: id, options, now } = job;
  try {
    await bring(profiles);
    const format = formatById(id);
    const [part, ...more] = partsOf(library, format);
    if (more.length > 0)
      return {
        why: `${format.name} holds ${format.traits.most} swatches, and there are more. Choose fewer groups.`,
      };
    const services = { ...(await localServices(library)), now };
    return { bytes: await writeAs(format, part!, services, options) };
  } catch (error) {
    return { failed: error instanceof Error ? error.message : 'it could not be written' };
  }
}
