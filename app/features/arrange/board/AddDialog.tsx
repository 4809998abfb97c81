import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMemo, useState } from 'react';
import { toHex } from '#core/color/index';
import {
  addSwatches,
  addToBoard,
  allSwatches,
  artworksOf,
  type Board,
  type BoardObject,
  colorwaysOf,
  gradientsOf,
  isLoose,
  MAX_OBJECTS,
  OBJECTS,
  type ObjectKind,
  readingsOf,
  type Swatch,
} from '#core/swatch/index';
import { useStore } from '~/state/store';
import { useTray } from '~/state/stores';
import { useCondition } from '~/ui/condition';
import { Field } from '~/ui/field';
import { PlainButton } from '~/ui/plain-button';
import { Choices } from '~/ui/setting';
import { count, swatchLabel } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { useToast } from '~/ui/toast';
import css from './BoardView.module.css';
import { newId, objectOf } from './object';
import type { BoardState } from './use-board';

const KINDS = {
  swatch: 'Swatches',
  group: 'Groups',
  tray: 'Tray',
  gradient: 'Gradients',
  picture: 'Pictures',
  work: 'Artwork',
  reading: 'Readings',
  text: 'Text',
} as const;
type Kind = keyof typeof KINDS;

interface Offer {
  key: string;
  of: ObjectKind;
  refs: string[];
  name: string;
  hex?: string;
  swatch?: Swatch;
}

/** So many are shown at once; the field finds the others. */
const MAX_SHOWN = 300;

/** Puts things of the library on a board. */
export function AddDialog({ state, board, onClose }: { state: BoardState; board: Board; onClose(): void }) {
  const { store, library, sources } = state;
  const condition = useCondition();
  const tray = useStore(useTray());
  const [kind, setKind] = useState<Kind>('swatch');
  const [find, setFind] = useState('');
  const [ticked, setTicked] = useState<ReadonlyMap<string, Offer>>(new Map());
  const [text, setText] = useState('');
  const toast = useToast();
  const offers = useMemo((): Record<Exclude<Kind, 'text'>, Offer[]> => {
    const item = (of: ObjectKind, { id, name }: { id: string; name: string }): Offer => ({
      ...{ key: `${of} ${id}`, of, refs: [id], name: name || 'without a name' },
    });
    const swatch = (s: Swatch): Offer => ({
      ...{ key: `swatch ${s.id}`, of: 'swatch', refs: [s.id], name: swatchLabel(s, condition) },
      hex: toHex(s.color, condition),
    });
    return {
      swatch: allSwatches(library).map(swatch),
      group: library.groups
        .filter((g) => g.swatches.length > 0)
        .map((g) => item('group', { id: g.id, name: isLoose(library, g) ? 'No group' : g.name })),
      tray: allSwatches(tray.library).map((s) => ({ ...swatch(s), key: `tray ${s.id}`, swatch: s })),
      gradient: gradientsOf(library).map((g) => item('gradient', g)),
      picture: sources.pictures.map((p) => item('picture', p)),
      work: artworksOf(library).flatMap((w) => [
        item('work', w),
        ...colorwaysOf(library, w.id).map((c) => ({
          ...item('work', c),
          refs: [w.id, c.id],
          name: `${w.name}, ${c.name || 'colourway without a name'}`,
        })),
      ]),
      reading: readingsOf(library).map((r) => item('reading', r)),
    };
  }, [library, sources, tray, condition]);
  const here = kind === 'text' ? [] : offers[kind];
  const sought = find.trim().toLocaleLowerCase('en');
  const shown = here.filter((o) => o.name.toLocaleLowerCase('en').includes(sought)).slice(0, MAX_SHOWN);
  const chosen = [...ticked.values()];
  const colors = chosen.filter((o) => o.of === 'swatch');
  const put = (objects: BoardObject[]) => {
    const room = MAX_OBJECTS - board.data.objects.length;
    if (objects.length > room) {
      toast({
        text: `A board holds up to ${MAX_OBJECTS} objects; ${room === 0 ? 'this one is full' : `this one has room for ${room}`}. Add a group in place of its swatches, or make another board.`,
        stays: true,
      });
      return;
    }
    if (state.edit(addToBoard(board, objects))) onClose();
  };
  /** The chosen, with what was in the tray placed in the library first. */
  const placed = (): Offer[] | null => {
    const fromTray = chosen.flatMap((o) => (o.swatch ? [{ ...o.swatch, id: newId() }] : []));
    if (fromTray.length === 0) return chosen;
    const group = library.groups[0]?.id;
    if (!group || !store.edit(addSwatches(store.rows, group, fromTray))) return null;
    let n = 0;
    return chosen.map((o) => (o.swatch ? { ...o, refs: [fromTray[n++]!.id] } : o));
  };
  const one = (o: Offer) => objectOf(o.of, o.refs, o.name);
  /** The chosen colours as one object, and all else that is chosen behind it. */
  const putTogether = (of: 'pair' | 'ribbon') => {
    const all = placed();
    if (!all) return;
    const own = all.filter((o) => o.of === 'swatch');
    const together = objectOf(
      of,
      own.flatMap((o) => o.refs),
      own.map((o) => o.name).join(', '),
    );
    put([together, ...all.filter((o) => o.of !== 'swatch').map(one)]);
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Add to “{board.name}”</DialogTitle>
      <DialogContent>
        <Choices className={css.kinds} aria-label="What to add">
          {(Object.keys(KINDS) as Kind[]).map((k) => (
            <PlainButton look="tab" key={k} aria-pressed={kind === k} onClick={() => setKind(k)}>
              {KINDS[k]}
              {k !== 'text' && offers[k].length > 0 && <span className="second"> {offers[k].length}</span>}
            </PlainButton>
          ))}
        </Choices>
        {kind === 'text' ? (
          <Field
            value={text}
            aria-label="Text on the board"
            placeholder="A line of text"
            dir="auto"
            onChange={(e) => setText(e.target.value)}
          />
        ) : here.length === 0 ? (
          <p className="second">{NONE[kind]}</p>
        ) : (
          <>
            <Field
              value={find}
              aria-label={`Find in ${KINDS[kind].toLowerCase()}`}
              placeholder="find…"
              onChange={(e) => setFind(e.target.value)}
            />
            <div className={css.offers}>
              {shown.map((o) => (
                <span key={o.key} className={css.offer}>
                  {o.hex && <span className={css.dot} style={{ background: o.hex }} aria-hidden />}
                  <Tick
                    checked={ticked.has(o.key)}
                    onChange={(on) => {
                      const next = new Map(ticked);
                      if (on) next.set(o.key, o);
                      else next.delete(o.key);
                      setTicked(next);
                    }}
                    label={o.name}
                  />
                </span>
              ))}
            </div>
            {here.length > shown.length && sought === '' && (
              <p className="caption">The first {MAX_SHOWN}; find others by their names.</p>
            )}
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        {colors.length === OBJECTS.pair.refs && (
          <Button onClick={() => putTogether('pair')}>As a pair</Button>
        )}
        {colors.length > 1 && colors.length <= OBJECTS.ribbon.refs && (
          <Button onClick={() => putTogether('ribbon')}>As a ribbon</Button>
        )}
        <Button
          variant="contained"
          disabled={kind === 'text' ? text.trim() === '' : chosen.length === 0}
          onClick={() => {
            if (kind === 'text') put([objectOf('text', [], text.trim())]);
            else {
              const all = placed();
              if (all) put(all.map(one));
            }
          }}
        >
          {kind === 'text'
            ? 'Add the text'
            : chosen.length === 0
              ? 'Add'
              : `Add ${count(chosen.length, 'object')}`}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

const NONE: Record<Exclude<Kind, 'text'>, string> = {
  swatch: 'The library has no swatches yet.',
  group: 'No group has swatches yet.',
  tray: 'The tray is empty.',
  gradient: 'The library has no gradients yet. Make one in Mosaic or List, under Make….',
  picture: 'No pictures are kept with the library. Keep one in Gather, under Picture.',
  work: 'The library has no artwork yet. Open some in Apply.',
  reading: 'The library has no readings yet. Read a measurement in Gather.',
};
