// Which modules the pages load together: each file costs a request, and what is not needed costs its bytes.
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const app = fileURLToPath(new URL('../app', import.meta.url));

/** The pages behind the list of libraries, by their routes; Gather without a library is the one with it. */
const PAGES = readdirSync(join(app, 'routes'))
  .filter((file) => file.endsWith('.tsx') && !['home.tsx', 'gather-unplaced.tsx'].includes(file))
  .map((file) => join(app, 'routes', file));

interface Graph {
  getModuleInfo(id: string): { importedIds: readonly string[] } | null;
}

/** All modules that some need before they run. */
function needed(by: readonly string[], graph: Graph): Set<string> {
  const found = new Set(by);
  for (const id of found) for (const next of graph.getModuleInfo(id)?.importedIds ?? []) found.add(next);
  return found;
}

/** Of what a module of core imports a page may use nothing, so there it is counted who does. */
const COUNTED = /\/core\/|\/node_modules\/(?!@mui\/|@tanstack\/|lucide-react\/)/;
/** How many parts of the pages use what is counted before it is loaded with the rest. */
const MIN_USERS = 2;

/**
 * What pages share is loaded as one, since each file costs a request: what the list of libraries needs, and what other
 * pages need beside it.
 */
const chunkOf = (() => {
  let base: Set<string> | null = null;
  const pages = new Map<string, number>();
  return (id: string, graph: Graph) => {
    if (!base) {
      base = needed([join(app, 'root.tsx'), join(app, 'routes', 'home.tsx')], graph);
      for (const page of PAGES)
        for (const module of needed([page], graph)) pages.set(module, (pages.get(module) ?? 0) + 1);
    }
    const uses = pages.get(id) ?? 0;
    if (base.has(id)) return uses > 0 ? 'base' : null;
    return uses > 1 ? 'steps' : null;
  };
})();

export const chunks = [
  { name: chunkOf, test: (id: string) => !COUNTED.test(id), priority: 2 },
  {
    name: (id: string, graph: Graph) => {
      const chunk = chunkOf(id, graph);
      return chunk && `${chunk}-core`;
    },
    test: COUNTED,
    minShareCount: MIN_USERS,
    priority: 1,
  },
];
