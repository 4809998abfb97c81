/** Data that were kept by a later version of Papillon than this one. */
export class LaterVersionError extends Error {
  override name = 'LaterVersionError';
}

/**
 * How data of one kind are kept as JSON: with the version `v` they were written in. Older ones are brought up to date as they
 * are read.
 */
export interface Stored<T> {
  readonly version: number;
  write(data: T): string;
  /** @throws LaterVersionError */
  read(text: string): T;
}

/**
 * @param upgraders each makes of data of one version those of the next, the first of version 0, which was kept without one
 */
export function stored<T>(upgraders: ((old: unknown) => unknown)[]): Stored<T> {
  const version = upgraders.length;
  return {
    version,
    write: (data) => JSON.stringify({ v: version, ...data }),
    read(text) {
      const found = JSON.parse(text);
      const from = Array.isArray(found) ? 0 : ((found.v as number | undefined) ?? 0);
      if (from > version)
        throw new LaterVersionError(
          `These data were kept by a later version of Papillon (${from}, this one knows ${version}). Update Papillon.`,
        );
      let data: unknown = found;
      if (from > 0) {
        const { v: _, ...rest } = found;
        data = rest;
      }
      for (const upgrade of upgraders.slice(from)) data = upgrade(data);
      return data as T;
    },
  };
}
