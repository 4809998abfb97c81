import type { Draft } from './change.ts';
import { itemOps } from './item-ops.ts';
import type { Item, Library, NewId } from './model.ts';
import type { LibraryRows } from './rows.ts';

export const SURFACES = 'surfaces';

/** How a material takes the light: 0 a mirror – 1 matt, and 0 paint – 1 bare metal (glTF 2.0, metallic-roughness). */
export interface Surface {
  roughness: number;
  metalness: number;
}

/** Of what has no surface of its own: painted, and matt. */
export const PLAIN_SURFACE: Surface = { roughness: 1, metalness: 0 };

type Surfaces = Item & { kind: typeof SURFACES; data: { byRole: Record<string, Surface> } };

const isSurfaces = (item: Item): item is Surfaces => {
  if (item.kind !== SURFACES) return false;
  const { byRole } = (item.data ?? {}) as { byRole?: unknown };
  return typeof byRole === 'object' && byRole !== null;
};

const part = (v: unknown, otherwise: number) => (typeof v === 'number' && v >= 0 && v <= 1 ? v : otherwise);

/** The surfaces of a library by role; swatches without one go by the empty role. */
export function surfacesOf({ items = [] }: Pick<Library, 'items'>): ReadonlyMap<string, Surface> {
  const found = items.find(isSurfaces);
  return new Map(
    Object.entries(found?.data.byRole ?? {}).map(([role, s]) => [
      role,
      {
        roughness: part(s?.roughness, PLAIN_SURFACE.roughness),
        metalness: part(s?.metalness, PLAIN_SURFACE.metalness),
      },
    ]),
  );
}

export const surfaceOf = (surfaces: ReadonlyMap<string, Surface>, role = ''): Surface =>
  surfaces.get(role) ?? PLAIN_SURFACE;

/** Sets the surface of what has a role. */
export function setSurface(rows: LibraryRows, role: string, surface: Surface, newId: NewId): Draft {
  const label = `set the surface of ${role ? `“${role}”` : 'what has no role'}`;
  const found = rows.library.items?.find(isSurfaces);
  if (found)
    return {
      label,
      ops: [
        {
          op: 'set',
          of: 'item',
          id: found.id,
          fields: { data: { byRole: { ...found.data.byRole, [role]: surface } } },
        },
      ],
    };
  const item: Item = { id: newId(), kind: SURFACES, name: '', data: { byRole: { [role]: surface } } };
  return { label, ops: itemOps(rows, [item]) };
}
