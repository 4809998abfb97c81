import { useRouteLoaderData } from 'react-router';

/** What the root of the pages loads for all of them. */
export interface RootData {
  /** File names of the sample pictures. */
  samples: string[];
}

/** The file names of the sample pictures; none before the root is loaded. */
export const useSamples = (): string[] =>
  (useRouteLoaderData('root') as Pick<RootData, 'samples'> | undefined)?.samples ?? [];
