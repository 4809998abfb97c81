import { useEffect, useMemo } from 'react';
import { toHex } from '#core/color/index';
import type { Swatch } from '#core/swatch/index';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { isTyping } from '~/ui/keys';
import { TuneBar } from './TuneBar';
import { TunePanel } from './TunePanel';
import { useTune } from './use-tune';

/** Tune: chosen swatches moved by hand and eye, seen before they are saved. */
export function Tune({
  chosen,
  onClose,
  onAfter,
}: {
  chosen: readonly { swatch: Swatch; group: string }[];
  onClose(): void;
  /** Hears what the swatches would be, as hex by their ids. */
  onAfter(after: ReadonlyMap<string, string>): void;
}) {
  const condition = useCondition();
  const swatches = useMemo(() => chosen.map((c) => c.swatch), [chosen]);
  const { store } = useLibrary();
  const groupName = store.rows.library.groups.find((g) => g.id === chosen[0]?.group)?.name || 'Swatches';
  const state = useTune(swatches, groupName, onClose);
  const { tuned } = state;
  useEffect(() => {
    onAfter(new Map(tuned.map((t) => [t.swatch.id, toHex(t.color, condition)])));
  }, [tuned, condition, onAfter]);
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || event.defaultPrevented || isTyping(event)) return;
      event.preventDefault();
      event.stopPropagation();
      onClose();
    };
    // before the board, whose Escape lets go of what is chosen
    window.addEventListener('keydown', key, true);
    return () => window.removeEventListener('keydown', key, true);
  }, [onClose]);
  return (
    <>
      <TunePanel state={state} chosen={swatches} />
      <TuneBar state={state} onClose={onClose} />
    </>
  );
}
