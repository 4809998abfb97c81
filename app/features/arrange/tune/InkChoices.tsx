import Button from '@mui/material/Button';
import { nanoid } from 'nanoid';
import { useState } from 'react';
import { asTint, tintLab } from '#core/books/index';
import { toHex } from '#core/color/index';
import { addSwatches, type Library, type Swatch } from '#core/swatch/index';
import { toProcess } from '#core/tune/index';
import { useNearest } from '~/features/shared/match/nearest';
import { Track } from '~/features/shared/tune/Track';
import css from '~/features/shared/tune/Tune.module.css';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { count, swatchLabel } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';

const STEPS = [0, 20, 40, 60, 80, 100];

/** What can become of inks, which are never moved: a tint, process colours, another number. */
export function InkChoices({
  chosen,
  library,
  onDone,
}: {
  chosen: readonly { swatch: Swatch; group: string }[];
  library: Library;
  onDone(): void;
}) {
  const condition = useCondition();
  const { store, select } = useLibrary();
  const { books } = useStores();
  const { list } = useStore(books);
  const nearest = useNearest();
  const toast = useToast();
  const [percent, setPercent] = useState(50);
  const inks = chosen.filter(({ swatch }) => swatch.kind === 'spot' || swatch.tint);
  const [one] = inks.length === 1 ? inks : [];
  // the tint of an ink that is itself one is of the ink
  const solid = one?.swatch.tint
    ? library.groups
        .flatMap((g) => g.swatches)
        .find((s) => s.kind === 'spot' && !s.tint && s.name === one.swatch.tint!.of)
    : one?.swatch;
  const facts = list?.find((b) => b.id === solid?.origin?.book)?.facts ?? {};
  if (inks.length === 0)
    return (
      <p className="second">Separations for machines keep their colours: they are names to a machine.</p>
    );
  const hexAt = (p: number) =>
    toHex({ space: 'lab', components: tintLab(solid!, facts, p, condition) }, condition);
  const addTint = () => {
    const made = asTint(solid!, percent, tintLab(solid!, facts, percent, condition), nanoid(12));
    const done = store.edit(addSwatches(store.rows, one!.group, [made]));
    onDone();
    if (!done) return;
    select([made.id]);
    toast({ text: `Added: ${made.name}.`, ...wayBack([store, done]) });
  };
  const convert = () => {
    const done = store.edit(
      toProcess(
        inks.map((i) => i.swatch),
        condition,
      ),
    );
    onDone();
    if (done)
      toast({ text: `${count(inks.length, 'ink')} converted to process.`, ...wayBack([store, done]) });
  };
  return (
    <section aria-label="Inks">
      <p className="second">
        {one ? (
          <>
            <span dir="auto">{swatchLabel(one.swatch, condition)}</span> is an ink, and keeps its colour.
          </>
        ) : (
          `${inks.length} inks keep their colours.`
        )}
      </p>
      {one && solid && (
        <>
          <Track
            label="Tint"
            unit="%"
            value={percent}
            min={1}
            max={99}
            decimals={1}
            colors={STEPS.map(hexAt)}
            onChange={setPercent}
          />
          <div className={css.tint}>
            <i style={{ background: hexAt(100) }} />
            <i style={{ background: hexAt(percent) }} />
          </div>
        </>
      )}
      <div className={css.inks}>
        {one && solid && <Button onClick={addTint}>Add {Number(percent.toFixed(1))} % of it</Button>}
        <Button onClick={convert}>Convert to process</Button>
        {one && (
          <Button
            onClick={() =>
              nearest({
                color: one.swatch.color,
                name: swatchLabel(one.swatch, condition),
                not: [store.id, one.swatch.id],
                swap: { store, ids: [one.swatch.id] },
              })
            }
          >
            Another number…
          </Button>
        )}
      </div>
    </section>
  );
}
