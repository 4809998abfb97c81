import { Plus } from 'lucide-react';
import { useMemo, useState } from 'react';
import { type Colorway, removeColorway, renameColorway } from '#core/swatch/index';
import { madeIn } from '~/features/shared/artwork/made';
import { SMALL_SIDE, usePainted } from '~/features/shared/artwork/use-painted';
import { CommentsDialog } from '~/features/shared/comments/CommentsDialog';
import { PlainButton } from '~/ui/plain-button';
import { RenameField } from '~/ui/rename-field';
import { isPressed } from '~/ui/shortcuts';
import { useToast, wayBack } from '~/ui/toast';
import css from './ColorwayStrip.module.css';
import { CompareDialog } from './CompareDialog';
import { NewColorwayDialog } from './NewColorwayDialog';
import { type ApplyState, freeName, newId } from './use-apply';

/** This many are drawn as pictures; the rest are their names. */
const MAX_DRAWN = 24;

/** The colourways of the work as small pictures, the way it was drawn first. */
export function ColorwayStrip({
  state,
  shown,
}: {
  state: ApplyState /** The work as it is seen above. */;
  shown: string | null;
}) {
  const { colorways, colorway, store, choose } = state;
  const [renaming, setRenaming] = useState<string | null>(null);
  const [making, setMaking] = useState(false);
  const [talking, setTalking] = useState(false);
  const [comparing, setComparing] = useState(false);
  const toast = useToast();
  const copy = (one: Colorway) => {
    state.add([{ ...one, id: newId(), name: freeName(colorways, one.name) }]);
  };
  const remove = (one: Colorway) => {
    const done = store.edit(removeColorway(one));
    if (done) toast({ text: `Colourway ${one.name} deleted.`, ...wayBack([store, done]) });
  };
  return (
    <section aria-label="Colourways" className={css.strip}>
      <Tile
        state={state}
        colorway={null}
        shown={colorway ? null : shown}
        waits={!shown}
        current={!colorway}
        onChoose={() => choose(null)}
      />
      {colorways.map((one, i) => (
        <Tile
          key={one.id}
          state={state}
          colorway={one}
          drawn={i < MAX_DRAWN}
          shown={one === colorway ? shown : null}
          waits={!shown}
          current={one === colorway}
          onChoose={() => choose(one.id)}
          renaming={renaming === one.id}
          onRenaming={(on) => setRenaming(on ? one.id : null)}
          onDelete={() => remove(one)}
        />
      ))}
      <div className={css.ways}>
        <PlainButton look="tab" className={css.add} onClick={() => setMaking(true)}>
          <Plus size={13} /> New colourway
        </PlainButton>
        {colorway && (
          <>
            <PlainButton look="tab" onClick={() => copy(colorway)}>
              Copy
            </PlainButton>
            <PlainButton look="tab" onClick={() => setRenaming(colorway.id)}>
              Rename
            </PlainButton>
            <PlainButton look="tab" onClick={() => setComparing(true)}>
              Compare…
            </PlainButton>
            <PlainButton look="tab" onClick={() => setTalking(true)}>
              Comments
            </PlainButton>
            <PlainButton look="tab" onClick={() => remove(colorway)}>
              Delete
            </PlainButton>
          </>
        )}
      </div>
      {making && <NewColorwayDialog state={state} onClose={() => setMaking(false)} />}
      {talking && colorway && (
        <CommentsDialog
          about={{ id: colorway.id, kind: 'colourway', name: colorway.name }}
          onClose={() => setTalking(false)}
        />
      )}
      {comparing && colorway && (
        <CompareDialog state={state} colorway={colorway} onClose={() => setComparing(false)} />
      )}
    </section>
  );
}

function Tile({
  state,
  colorway,
  drawn = true,
  shown,
  waits,
  current,
  onChoose,
  renaming = false,
  onRenaming,
  onDelete,
}: {
  state: ApplyState;
  colorway: Colorway | null;
  drawn?: boolean;
  /** What is seen large is not drawn again. */
  shown: string | null;
  /** The large one comes first. */
  waits: boolean;
  current: boolean;
  onChoose(): void;
  renaming?: boolean;
  onRenaming?(on: boolean): void;
  onDelete?(): void;
}) {
  const { artwork, facts, rowsOf, swatchOf, condition, store } = state;
  const made = useMemo(
    () =>
      drawn && !current && !waits && artwork && facts
        ? madeIn(artwork, facts, rowsOf(colorway), swatchOf, condition)
        : null,
    [drawn, current, waits, artwork, facts, rowsOf, colorway, swatchOf, condition],
  );
  const painted = usePainted(artwork?.data.asset, made, SMALL_SIDE);
  const url = shown ?? painted.url;
  const name = colorway ? colorway.name || 'Colourway without a name' : 'As drawn';
  return (
    <div className={css.tile} data-current={current}>
      <PlainButton
        className={css.picture}
        aria-pressed={current}
        aria-label={name}
        onClick={onChoose}
        onDoubleClick={() => onRenaming?.(true)}
        onKeyDown={(e) => {
          if (isPressed('renameTake', e)) onRenaming?.(true);
          else if (e.key === 'Delete') onDelete?.();
          else return;
          e.preventDefault();
        }}
      >
        {url && <img src={url} alt="" draggable={false} />}
      </PlainButton>
      {renaming && colorway ? (
        <RenameField
          className={css.rename!}
          label="Name of the colourway"
          name={colorway.name}
          onRename={(typed) => store.edit(renameColorway(colorway, typed.trim().slice(0, 200)))}
          onDone={() => onRenaming?.(false)}
        />
      ) : (
        <span className={`caption cut ${css.name}`} dir="auto" title={name}>
          {name}
        </span>
      )}
    </div>
  );
}
