import { suggestNames } from '#core/color/index';
import { addSwatches, allSwatches, type Library, type Swatch } from '#core/swatch/index';
import { TRAY, useTray } from '~/state/stores';
import { useWorkspace } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { count } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';

/** Puts swatches in the tray; suggested names keep clear of those in the tray and in the group colours go to. */
export function useToTray() {
  const tray = useTray();
  const workspace = useWorkspace();
  const condition = useCondition();
  const toast = useToast();
  return async (swatches: Swatch[], suggested: (i: number) => boolean = () => false) => {
    try {
      // just after a reload the tray may still be on its way
      await tray.whole();
    } catch (error) {
      toast({ text: `The colours are not in the tray yet. ${(error as Error).message}`, stays: true });
      return;
    }
    const namesIn = (library: Library, groupId?: string | null) =>
      (groupId ? (library.groups.find((g) => g.id === groupId)?.swatches ?? []) : allSwatches(library)).map(
        (s) => s.name,
      );
    const typed = swatches.filter((_, i) => !suggested(i)).map((s) => s.name);
    const taken = [
      ...namesIn(tray.snapshot().library),
      ...(workspace ? namesIn(workspace.store.snapshot().library, workspace.groupId) : []),
      ...typed,
    ];
    const free = suggestNames(
      swatches.filter((_, i) => suggested(i)).map((s) => s.color),
      condition,
      taken,
    );
    let next = 0;
    const named = swatches.map((s, i) => (suggested(i) ? { ...s, name: free[next++] } : s));
    const added = tray.edit(addSwatches(tray.rows, TRAY, named));
    if (added) toast({ text: `${count(swatches.length, 'colour')} in the tray.`, ...wayBack([tray, added]) });
  };
}
