import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Slider from '@mui/material/Slider';
import { nanoid } from 'nanoid';
import { lazy, Suspense, useEffect, useMemo, useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import { toHex } from '#core/color/index';
import {
  addBoard,
  addGradients,
  addToBoard,
  allSwatches,
  type BoardObject,
  boardsOf,
  countSwatches,
  duplicateSwatches,
  emptyBoard,
  freeGroupName,
  type Gradient,
  gradientsOf,
  gradientsOfGroups,
  gradientThrough,
  isLoose,
  MAX_OBJECTS,
  MAX_STOPS,
  makesGradient,
  removeSwatches,
  type SwatchOrder,
  sortSwatches,
  swatchOrders,
} from '#core/swatch/index';
import type { View } from '~/features/shared/layout';
import type { Asked } from '~/features/shared/match/asked';
import { useNearest, useNearestKey } from '~/features/shared/match/nearest';
import { BringIn } from '~/features/shared/merge/BringIn';
import { SendDialog } from '~/features/shared/merge/SendDialog';
import { useOpenFiles } from '~/features/shared/open/OpenFiles';
import { useStore } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Empty } from '~/ui/empty';
import { Stage, Toolbar } from '~/ui/Frame';
import { isTyping } from '~/ui/keys';
import { PlainButton } from '~/ui/plain-button';
import { ariaKeys, useShortcut } from '~/ui/shortcuts';
import { count, swatchLabel } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';
import { AddSwatch } from './AddSwatch';
import css from './Arrange.module.css';
import { objectOf } from './board/object';
import { Mosaic } from './Mosaic';
import { Readout } from './Readout';
import type { After } from './tune/Tune';
import { boardAddress, lastBoard, ViewTabs } from './ViewTabs';

const GradientShelf = lazy(() =>
  import('./gradient/GradientShelf').then((m) => ({ default: m.GradientShelf })),
);

const Tune = lazy(() => import('./tune/Tune').then((m) => ({ default: m.Tune })));

const Preview = lazy(() => import('./tune/Preview').then((m) => ({ default: m.Preview })));

const MaterialsDialog = lazy(() =>
  import('./materials/MaterialsDialog').then((m) => ({ default: m.MaterialsDialog })),
);

/** Arrange: the library itself. */
export function Arrange({
  view,
  scrollTo,
  tuning,
  setTuning,
}: {
  view: View;
  scrollTo: { groupId: string; n: number } | null;
  tuning: boolean;
  setTuning(on: boolean): void;
}) {
  const { store, selection, select } = useLibrary();
  const { library, whole } = useStore(store);
  const [size, setSize] = useState(86);
  const [sorting, setSorting] = useState<HTMLElement | null>(null);
  const [sending, setSending] = useState<ReadonlySet<string> | null>(null);
  const [merging, setMerging] = useState(false);
  const [adding, setAdding] = useState(false);
  const [making, setMaking] = useState<HTMLElement | null>(null);
  const [gradient, setGradient] = useState<string | null>(null);
  const [materials, setMaterials] = useState(false);
  const [isBoardMeant, setBoardMeant] = useState(false);
  const condition = useCondition();
  const openFiles = useOpenFiles();
  const toast = useToast();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the rows change with the library
  const chosen = useMemo(() => store.rows.inOrder(selection), [store, library, selection]);
  const total = countSwatches(library);
  const nearTo = (): Asked | null => {
    const first = chosen[0]?.swatch;
    return first
      ? {
          color: first.color,
          name:
            chosen.length > 1 ? `${swatchLabel(first, condition)} and others` : swatchLabel(first, condition),
          not: [store.id, first.id],
          swap: { store, ids: chosen.map((c) => c.swatch.id) },
        }
      : null;
  };
  useNearestKey(nearTo);
  const nearest = useNearest();

  const remove = () => {
    if (chosen.length === 0) return;
    store.edit(
      removeSwatches(
        chosen.map((c) => c.swatch.id),
        store.rows,
      ),
    );
    select([]);
  };
  const duplicate = () => {
    const { made, ...draft } = duplicateSwatches(store.rows, new Set(chosen.map((c) => c.swatch.id)), () =>
      nanoid(12),
    );
    if (store.edit(draft)) select(made);
  };
  const addGradient = (made: Gradient[]) => {
    setMaking(null);
    if (made.length === 0 || !store.edit(addGradients(store.rows, made))) return;
    if (made.length === 1) setGradient(made[0]!.id);
    else toast({ text: `${count(made.length, 'gradient')} made.` });
  };
  const ofChosen = () => {
    const swatches = chosen.map((c) => c.swatch);
    const name = `${swatchLabel(swatches[0]!, condition)} to ${swatchLabel(swatches.at(-1)!, condition)}`;
    const free = freeGroupName({ groups: gradientsOf(library) }, name);
    addGradient([gradientThrough(nanoid(12), free, swatches, 'oklab')]);
  };
  const { groupId } = useLibrary();
  const group = library.groups.find((g) => g.id === groupId && !isLoose(library, g)) ?? null;
  const navigate = useNavigate();
  const addBoardOf = (name: string, objects: BoardObject[]) => {
    setMaking(null);
    const board = emptyBoard(nanoid(12), freeGroupName({ groups: boardsOf(library) }, name), objects);
    if (store.edit(addBoard(store.rows, board))) void navigate(boardAddress(library.id, board.id));
  };
  const boardOfChosen = () =>
    addBoardOf(
      library.name,
      chosen.map(({ swatch }) => objectOf('swatch', [swatch.id], swatchLabel(swatch, condition))),
    );
  /** Onto the board that was looked at last, or a new one. */
  const toBoard = (ids: readonly string[]) => {
    const found = ids.flatMap((id) => store.rows.find(id)?.swatch ?? []);
    const objects = found.map((s) => objectOf('swatch', [s.id], swatchLabel(s, condition)));
    const boards = boardsOf(library);
    const board = boards.find((b) => b.id === lastBoard(library.id)) ?? boards[0];
    if (objects.length > MAX_OBJECTS - (board?.data.objects.length ?? 0)) {
      toast({
        text: `A board holds up to ${MAX_OBJECTS} objects. Put a group on it in place of its swatches.`,
        stays: true,
      });
      return;
    }
    const done = store.edit(
      board
        ? addToBoard(board, objects)
        : addBoard(store.rows, emptyBoard(nanoid(12), library.name, objects)),
    );
    if (done)
      toast({
        text: `${objects.length === 1 ? `“${objects[0]!.name}” is` : `${count(objects.length, 'swatch')} are`} on the board “${board?.name ?? library.name}”.`,
        ...wayBack([store, done]),
      });
  };
  const boardOfGroup = () => group && addBoardOf(group.name, [objectOf('group', [group.id], group.name)]);
  const gradable = library.groups.filter((g) => makesGradient(library, g)).length;
  // the search may lead to a gradient
  const sought = (useLocation().state as { gradient?: string } | null)?.gradient;
  useEffect(() => {
    if (sought) setGradient(sought);
  }, [sought]);
  const sort = (order: SwatchOrder) => {
    setSorting(null);
    const ids = chosen.length > 1 ? chosen.map((c) => c.swatch.id) : allSwatches(library).map((s) => s.id);
    const { by, label } = swatchOrders[order];
    store.edit(sortSwatches(store.rows, ids, by(condition), label.toLowerCase()));
  };

  useShortcut('add', () => setAdding(true));
  useShortcut('remove', remove);
  useShortcut('tune', () => {
    if (chosen.length === 0) return false;
    setTuning(!tuning);
    return true;
  });
  const [after, setAfter] = useState<After | null>(null);
  const toTune = tuning && chosen.length > 0;
  // with none chosen there is nothing to tune
  useEffect(() => {
    if (tuning && !toTune) setTuning(false);
    if (!toTune) setAfter(null);
  }, [tuning, toTune, setTuning]);
  useShortcut('chooseAll', () => select(allSwatches(library).map((s) => s.id)));
  useEffect(() => {
    const copy = (event: ClipboardEvent) => {
      if (isTyping(event) || chosen.length === 0 || window.getSelection()?.toString()) return;
      event.clipboardData?.setData(
        'text/plain',
        chosen.map((c) => toHex(c.swatch.color, condition)).join('\n'),
      );
      event.preventDefault();
    };
    window.addEventListener('copy', copy);
    return () => window.removeEventListener('copy', copy);
  });

  return (
    <>
      <Stage>
        <h1 className="unseen">Arrange</h1>
        <Toolbar className={css.toolbar}>
          <ViewTabs view={view} isBoardMeant={isBoardMeant} />
          <span className={css.rule} />
          <PlainButton
            look="tab"
            aria-expanded={adding}
            aria-keyshortcuts={ariaKeys('add')}
            title="Add a swatch by its code (A)"
            onClick={() => setAdding(!adding)}
          >
            Add…
          </PlainButton>
          <PlainButton
            look="tab"
            aria-haspopup="menu"
            disabled={total < 2}
            onClick={(e) => setSorting(e.currentTarget)}
          >
            Sort {chosen.length > 1 ? `${chosen.length} chosen` : 'all'}
          </PlainButton>
          <Menu anchorEl={sorting} open={!!sorting} onClose={() => setSorting(null)}>
            {(Object.keys(swatchOrders) as SwatchOrder[]).map((id) => (
              <MenuItem key={id} onClick={() => sort(id)}>
                by {swatchOrders[id].label.toLowerCase()}
              </MenuItem>
            ))}
          </Menu>
          <PlainButton look="tab" disabled={chosen.length === 0} onClick={duplicate}>
            Duplicate
          </PlainButton>
          <PlainButton look="tab" disabled={chosen.length === 0} onClick={remove}>
            Delete
          </PlainButton>
          <PlainButton look="tab" disabled={chosen.length === 0} onClick={() => setSending(selection)}>
            Send…
          </PlainButton>
          <PlainButton
            look="tab"
            disabled={chosen.length === 0}
            title="Swap for a numbered ink, or find the nearest (N)"
            onClick={() => {
              const asked = nearTo();
              if (asked) nearest(asked);
            }}
          >
            Nearest…
          </PlainButton>
          <PlainButton
            look="tab"
            aria-pressed={tuning}
            aria-keyshortcuts={ariaKeys('tune')}
            disabled={chosen.length === 0}
            title="Move colours by hand and eye (T)"
            onClick={() => setTuning(!tuning)}
          >
            Tune
          </PlainButton>
          <PlainButton
            look="tab"
            aria-haspopup="menu"
            disabled={chosen.length === 0 && gradable === 0 && !group}
            onClick={(e) => setMaking(e.currentTarget)}
          >
            Make…
          </PlainButton>
          <Menu anchorEl={making} open={!!making} onClose={() => setMaking(null)}>
            <MenuItem disabled={chosen.length < 2 || chosen.length > MAX_STOPS} onClick={ofChosen}>
              a gradient through the {chosen.length > 1 ? `${chosen.length} chosen` : 'chosen swatches'}
            </MenuItem>
            <MenuItem
              disabled={gradable === 0}
              onClick={() => addGradient(gradientsOfGroups(library, () => nanoid(12)))}
            >
              a gradient for each of {count(gradable, 'group')}
            </MenuItem>
            <MenuItem disabled={chosen.length === 0 || chosen.length > MAX_OBJECTS} onClick={boardOfChosen}>
              a board of the {chosen.length > 1 ? `${chosen.length} chosen` : 'chosen swatch'}
            </MenuItem>
            {group && (
              <MenuItem disabled={group.swatches.length === 0} onClick={boardOfGroup}>
                a board of the group “{group.name}”
              </MenuItem>
            )}
            <MenuItem
              disabled={chosen.length === 0}
              onClick={() => {
                setMaking(null);
                setMaterials(true);
              }}
            >
              materials of the {chosen.length > 1 ? `${chosen.length} chosen` : 'chosen swatch'}
            </MenuItem>
          </Menu>
          <PlainButton look="tab" onClick={() => setMerging(true)}>
            Merge…
          </PlainButton>
          {view === 'mosaic' && (
            <span className={css.chipSize}>
              <span className="caption" id="chip-size">
                chip size
              </span>
              <Slider
                min={28}
                max={180}
                value={size}
                onChange={(_, v) => setSize(v as number)}
                aria-labelledby="chip-size"
                sx={{ width: 72 }}
              />
            </span>
          )}
        </Toolbar>
        {adding && <AddSwatch onClose={() => setAdding(false)} />}
        {!whole && total === 0 ? (
          <Reading />
        ) : total === 0 && library.groups.every((g) => g.name === '') ? (
          <Empty
            level="h2"
            title="No swatches yet"
            text="Drop a picture or a swatch file anywhere, or start with one of these."
          >
            <Button variant="contained" component={Link} to={`/libraries/${library.id}/gather`}>
              Gather from a picture
            </Button>
            <Button onClick={openFiles}>Open a swatch file</Button>
            <Button onClick={() => setAdding(true)}>Type a colour</Button>
          </Empty>
        ) : (
          <Mosaic
            view={view}
            size={size}
            scrollTo={scrollTo}
            onSend={setSending}
            after={toTune ? after : null}
            onOverBoard={setBoardMeant}
            onBoard={toBoard}
          />
        )}
        <Suspense>
          {toTune && after && <Preview library={library} after={after} />}
          {!toTune && gradientsOf(library).length > 0 && (
            <GradientShelf opened={gradient} onOpen={setGradient} />
          )}
          {materials && chosen.length > 0 && (
            <MaterialsDialog swatches={chosen.map((c) => c.swatch)} onClose={() => setMaterials(false)} />
          )}
        </Suspense>
        {sending && <SendDialog store={store} ids={sending} onClose={() => setSending(null)} />}
        {merging && <BringIn store={store} onClose={() => setMerging(false)} />}
      </Stage>
      {toTune ? (
        <Suspense fallback={<Readout chosen={chosen.map((c) => c.swatch)} />}>
          <Tune chosen={chosen} library={library} onClose={() => setTuning(false)} onAfter={setAfter} />
        </Suspense>
      ) : (
        <Readout chosen={chosen.map((c) => c.swatch)} />
      )}
    </>
  );
}

/** While nothing of the library is here yet; not shown when it comes at once. */
function Reading() {
  const { store } = useLibrary();
  const { problem } = useStore(store);
  return (
    <p className={`second ${css.readingLibrary}`} role="status">
      {problem ?? 'Reading the library…'}
    </p>
  );
}
