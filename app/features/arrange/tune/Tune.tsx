import { nanoid } from 'nanoid';
import { useEffect, useMemo } from 'react';
import { toHex } from '#core/color/index';
import type { Library, Swatch } from '#core/swatch/index';
import { isTunable, type PairAfter, tunedGroup, tuneSwatches } from '#core/tune/index';
import css from '~/features/shared/tune/Tune.module.css';
import { TuneControls } from '~/features/shared/tune/TuneControls';
import { useTune } from '~/features/shared/tune/use-tune';
import { useStores } from '~/state/stores';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Panel } from '~/ui/Frame';
import { isTyping } from '~/ui/keys';
import { useToast, wayBack } from '~/ui/toast';
import { InkChoices } from './InkChoices';
import { TuneBar } from './TuneBar';

/** What the board and what uses the swatches show instead of them while they are tuned. */
export interface After {
  get(id: string): string | undefined;
  swatchOf(id: string): Swatch | undefined;
  /** Which are moved; inks are not. */
  ids: ReadonlySet<string>;
  pairs: readonly PairAfter[];
}

/** Tune: chosen swatches moved by hand and eye, seen before they are saved. */
export function Tune({
  chosen,
  library,
  onClose,
  onAfter,
}: {
  chosen: readonly { swatch: Swatch; group: string }[];
  library: Library;
  onClose(): void;
  /** Hears what the swatches would be. */
  onAfter(after: After): void;
}) {
  const condition = useCondition();
  const { store, select } = useLibrary();
  const { tunings } = useStores();
  const toast = useToast();
  const swatches = useMemo(() => chosen.map((c) => c.swatch), [chosen]);
  const withRole = useMemo(() => library.groups.flatMap((g) => g.swatches.filter((s) => s.role)), [library]);
  const state = useTune(swatches, withRole);
  const { tuned, tunedOf, words, tuning, contrast } = state;
  const ids = useMemo(() => new Set(swatches.filter(isTunable).map((s) => s.id)), [swatches]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what it would be changes with what is tuned
  useEffect(() => {
    const hexes = new Map<string, string | undefined>();
    onAfter({
      get(id) {
        // only what is seen is asked for
        if (!hexes.has(id)) {
          const color = tunedOf(id)?.color;
          hexes.set(id, color && toHex(color, condition));
        }
        return hexes.get(id);
      },
      ids,
      pairs: contrast.pairs,
      swatchOf(id) {
        const one = tunedOf(id);
        return one ? { ...one.swatch, color: one.color } : store.rows.find(id)?.swatch;
      },
    });
  }, [tuned, ids, contrast, condition, onAfter, store]);
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

  const save = () => {
    const done = store.edit(tuneSwatches(state.now(), words));
    tunings.used(tuning);
    onClose();
    if (done) toast({ text: `Tuned: ${words}.`, ...wayBack([store, done]) });
  };
  const saveAsNew = () => {
    const name = library.groups.find((g) => g.id === chosen[0]?.group)?.name || 'Swatches';
    const { made, ...draft } = tunedGroup(store.rows, state.now(), words, `${name}, tuned`, () => nanoid(12));
    const done = store.edit(draft);
    tunings.used(tuning);
    onClose();
    if (!done) return;
    select(made);
    toast({ text: `Added as a group: ${words}.`, ...wayBack([store, done]) });
  };
  return (
    <>
      <Panel side="readout" label="Tune">
        <TuneControls state={state} chosen={swatches} />
        {state.leftAlone > 0 && (
          <div className={css.words}>
            <InkChoices chosen={chosen} library={library} onDone={onClose} />
          </div>
        )}
      </Panel>
      <TuneBar state={state} library={library} onSave={save} onSaveAsNew={saveAsNew} onClose={onClose} />
    </>
  );
}
