import { nanoid } from 'nanoid';
import { useNavigate } from 'react-router';
import type { PaletteColor } from '#core/picture/index';
import { addGradients, freeGroupName, GRADIENT, type Gradient, gradientsOf } from '#core/swatch/index';
import type { OpenPicture } from '~/state/picture-store';
import { useWorkspace } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { useToast } from '~/ui/toast';
import type { TakeState } from './use-take';

/** At most this many places of a line are looked at. */
const PLACES = 49;

/** Makes a gradient of the open library of the colours along a line on a picture; null where no library is open. */
export function useLine(picture: OpenPicture | null, state: TakeState | null) {
  const workspace = useWorkspace();
  const condition = useCondition();
  const toast = useToast();
  const navigate = useNavigate();
  if (!workspace || workspace.book || !picture?.opened || !state) return null;
  const { store } = workspace;
  const { opened, id, name } = picture;
  return async (from: [number, number], to: [number, number]) => {
    const { sampleSize: size, cell } = state.recipe;
    const found = await Promise.all(
      Array.from({ length: PLACES }, (_, i) => {
        const part = i / (PLACES - 1);
        const [x, y] = [0, 1].map((k) => Math.floor(from[k]! + (to[k]! - from[k]!) * part)) as [
          number,
          number,
        ];
        const inside = x >= 0 && y >= 0 && x < opened.width && y < opened.height;
        return inside ? state.store.client.ask('peek', { id, x, y, size, cell }) : null;
      }),
    );
    const colors: PaletteColor[] = found.flatMap((f) => f?.color ?? []);
    if (colors.length < 2) {
      toast({ text: 'This line touches no colours.' });
      return;
    }
    const { stopsAlong } = await import('#core/gradient/index');
    const stops = stopsAlong(
      colors.map((c) => c.color),
      condition,
    );
    const free = freeGroupName(
      { groups: gradientsOf(store.rows.library) },
      `${name.replace(/\.\w+$/, '')}, a line`,
    );
    const gradient: Gradient = {
      id: nanoid(12),
      kind: GRADIENT,
      name: free,
      refs: [],
      data: { stops, way: 'oklab' },
    };
    if (!store.edit(addGradients(store.rows, [gradient]))) return;
    toast({
      text: `The gradient “${free}” is in the library, with ${stops.length} stops.`,
      action: { label: 'Look at it', run: () => void navigate(`/libraries/${store.id}/arrange`) },
    });
  };
}
