import { useRouteLoaderData } from 'react-router';

/** What the root of the pages loads for all of them. */
export interface RootData {
  /** File names of the sample pictures. */
  samples: string[];
  /** Who came by a link to edit, and its library; null for owners. */
  visitor: { id: string; name: string; library: string } | null;
}

const useRoot = () => useRouteLoaderData('root') as Partial<RootData> | undefined;

/** Who came by a link to edit one library; null for owners, who have all of them. */
export const useVisitor = () => useRoot()?.visitor ?? null;

/** The file names of the sample pictures; none before the root is loaded. */
export const useSamples = (): string[] => useRoot()?.samples ?? [];
