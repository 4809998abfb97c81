import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import { nanoid } from 'nanoid';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { groupsToPlace } from '#core/books/index';
import { renewNames } from '#core/color/index';
import {
  addGroups,
  addSwatches,
  allSwatches,
  isLoose,
  type Library,
  removeSwatches,
  replaceSwatches,
  type Swatch,
} from '#core/swatch/index';
import { baseName } from '#core/text/names';
import type { LibraryStore } from '~/state/library-store';
import { useVisitor } from '~/state/root-data';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useWorkspace } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Field, SelectField } from '~/ui/field';
import { focusWork } from '~/ui/focus-work';
import { count, groupLabel, Strip, stripColors, swatchLabel } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';
import { LibraryChoice } from '../merge/LibraryChoice';
import css from './PlaceDialog.module.css';

type Where = 'library' | 'group' | 'existing' | 'other';

/** A new group is asked for by no id. */
const NEW_GROUP = '';

const LAST_PLACE = 'papillon-last-place';

/** Where colours were placed last, and in which group, if it was one that was there. */
interface Place {
  library: string;
  group: string;
}

/** The last place, as this browser remembers it; null when it was a new library, or is not known. */
function lastPlace(): Place | null {
  try {
    const known: unknown = JSON.parse(localStorage.getItem(LAST_PLACE) ?? 'null');
    const { library, group } = (known ?? {}) as Partial<Place>;
    return typeof library === 'string' && typeof group === 'string' ? { library, group } : null;
  } catch {
    return null;
  }
}

function rememberPlace(place: Place | null): void {
  try {
    localStorage.setItem(LAST_PLACE, JSON.stringify(place));
  } catch {
    // it is a convenience alone
  }
}

const groupsOf = (library: Library | undefined) =>
  library?.groups.filter((g) => !isLoose(library, g) || g.swatches.length > 0) ?? [];

/** A library by its id, read whole where it is not open yet. */
function useRows(id: string): { library: Library | null; problem: string } {
  const stores = useStores();
  const [found, setFound] = useState<{ id: string; library: Library | null; problem: string }>({
    id: '',
    library: null,
    problem: '',
  });
  useEffect(() => {
    if (!id) return;
    let isWanted = true;
    stores
      .library(id)
      .whole()
      .then(
        ({ library }) => isWanted && setFound({ id, library, problem: '' }),
        (error: Error) => isWanted && setFound({ id, library: null, problem: error.message }),
      );
    return () => {
      isWanted = false;
    };
  }, [stores, id]);
  return found.id === id ? found : { library: null, problem: '' };
}

/** Places what waits in the tray: in a new library, or in any group of any library, where it adds or replaces. */
export function PlaceDialog({ onClose }: { onClose(): void }) {
  const condition = useCondition();
  const stores = useStores();
  // whoever came by a link has one library
  const visitor = useVisitor();
  const { tray } = stores;
  const swatches = allSwatches(useStore(tray).library);
  const workspace = useWorkspace();
  const own = workspace && !workspace.book ? workspace : null;
  const here = own?.store.snapshot().library;
  // a palette is usually named after the picture it came from
  const source = swatches.find((s) => s.origin?.name)?.origin?.name;
  const [name, setName] = useState(source ? baseName(source) : 'New palette');
  const [last] = useState(lastPlace);
  const ownGroups = groupsOf(here);
  const isHere = !!last && last.library === here?.id;
  const [where, setWhere] = useState<Where>(
    isHere && ownGroups.some((g) => g.id === last.group)
      ? 'existing'
      : own
        ? 'group'
        : last
          ? 'other'
          : 'library',
  );
  const [other, setOther] = useState({ id: isHere ? '' : (last?.library ?? ''), name: '' });
  const [groupId, setGroupId] = useState(
    (last && !isHere ? last.group : ownGroups.find((g) => g.id === (last?.group ?? own?.groupId))?.id) ||
      ownGroups[0]?.id ||
      NEW_GROUP,
  );
  const [replace, setReplace] = useState(false);
  const [busy, setBusy] = useState(false);
  const toast = useToast();
  const navigate = useNavigate();
  const elsewhere = useRows(where === 'other' ? other.id : '');
  const library = where === 'other' ? elsewhere.library : here;
  const groups = groupsOf(library ?? undefined);
  const isNew = where === 'group' || where === 'library';
  const target = isNew ? undefined : groups.find((g) => g.id === groupId);

  const emptyTray = () => tray.edit(removeSwatches(swatches.map((s) => s.id)));
  // the tray keeps its own copies until they are taken out, so each placed swatch gets an id of its own
  const copies = () => swatches.map((s) => ({ ...s, id: nanoid(12) }));

  // what is replaced leaves its names free
  const renewed = () => {
    const made = copies();
    const names = renewNames(
      made.map((s) => s.name),
      made.map((s) => s.color),
      condition,
    );
    return made.map((s, i) => ({ ...s, name: names[i]! }));
  };

  const placeInNew = async () => {
    const id = await stores.createLibrary({
      id: 'new',
      name,
      // they go on to look as they did here
      ...(here?.condition ? { condition: here.condition } : {}),
      groups: groupsToPlace(copies(), name).map((g, i) => ({ id: `group-${i}`, ...g })),
    });
    rememberPlace(null);
    emptyTray();
    onClose();
    await navigate(`/libraries/${id}/arrange`);
    requestAnimationFrame(focusWork);
  };

  const placeIn = async (store: LibraryStore) => {
    const rows = await store.whole();
    const into = target?.id ?? nanoid(12);
    const placed = store.edit(
      !target
        ? addGroups(
            rows,
            groupsToPlace(copies(), name).map((g, i) => ({ id: i === 0 ? into : nanoid(12), ...g })),
          )
        : replace
          ? replaceSwatches(rows, into, renewed())
          : addSwatches(rows, into, copies()),
    );
    if (!placed) throw new Error('The library cannot be changed now. Try again.');
    rememberPlace({ library: store.id, group: target?.id ?? NEW_GROUP });
    if (store === own?.store) own.setGroupId(into);
    const emptied = emptyTray();
    onClose();
    await navigate(`/libraries/${store.id}/arrange`);
    requestAnimationFrame(focusWork);
    toast({
      text: `${count(swatches.length, 'swatch', 'swatches')} placed.`,
      ...wayBack([store, placed], ...(emptied ? [[tray, emptied] as [typeof tray, string]] : [])),
    });
  };

  const place = async () => {
    if (busy) return;
    setBusy(true);
    try {
      if (where === 'library') await placeInNew();
      else await placeIn(where === 'other' ? stores.library(other.id) : own!.store);
    } catch (error) {
      setBusy(false);
      const what = where === 'library' ? 'The library could not be made.' : 'Nothing was placed.';
      toast({ text: `${what} ${(error as Error).message} The tray keeps its colours.` });
    }
  };

  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void place();
        }}
      >
        <DialogTitle>Place {count(swatches.length, 'colour')}</DialogTitle>
        <DialogContent>
          <Strip colors={stripColors(swatches, condition, 120)} height={22} />
          <RadioGroup
            value={where}
            onChange={(_, v) => setWhere(v as Where)}
            sx={{ mt: 2 }}
            aria-label="Where to"
          >
            {own && (
              <FormControlLabel value="group" control={<Radio />} label={`A new group in ${here?.name}`} />
            )}
            {own && ownGroups.length > 0 && (
              <FormControlLabel value="existing" control={<Radio />} label={`A group of ${here?.name}`} />
            )}
            {!visitor && (
              <FormControlLabel
                value="other"
                control={<Radio />}
                label={own ? 'Another library' : 'A library that is there'}
              />
            )}
            {!visitor && <FormControlLabel value="library" control={<Radio />} label="A new library" />}
          </RadioGroup>
          {where === 'other' && (
            <LibraryChoice
              without={here?.id ?? ''}
              value={other.id}
              onChange={(id, title) => {
                setOther({ id, name: title });
                if (id !== last?.library) setGroupId(NEW_GROUP);
              }}
            />
          )}
          {elsewhere.problem && <p role="alert">That library cannot be read now. {elsewhere.problem}</p>}
          {!isNew && library && (
            <SelectField
              value={target?.id ?? NEW_GROUP}
              onChange={(e) => setGroupId(e.target.value)}
              className={css.field}
              aria-label="Group"
            >
              {where === 'other' && <option value={NEW_GROUP}>A new group</option>}
              {groups.map((g) => (
                <option key={g.id} value={g.id}>
                  {groupLabel(library, library.groups.indexOf(g))}
                </option>
              ))}
            </SelectField>
          )}
          {target ? (
            <>
              <RadioGroup
                value={replace ? 'replace' : 'add'}
                onChange={(_, v) => setReplace(v === 'replace')}
                sx={{ mt: 1 }}
                aria-label="Add or replace"
              >
                <FormControlLabel value="add" control={<Radio />} label="Add. Nothing is replaced." />
                <FormControlLabel value="replace" control={<Radio />} label="Replace what is in it" />
              </RadioGroup>
              {replace && <Replaced swatches={target.swatches} />}
            </>
          ) : (
            (isNew || library) && (
              <Field
                key={where}
                value={name}
                dir="auto"
                onChange={(e) => setName(e.target.value)}
                className={css.field}
                aria-label={where === 'library' ? 'Name of the library' : 'Name of the group'}
                onFocus={(e) => e.target.select()}
                autoFocus={isNew}
              />
            )
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Keep in the tray</Button>
          <Button
            type="submit"
            variant="contained"
            disabled={
              busy ||
              swatches.length === 0 ||
              (!isNew && !library) ||
              (!target && name.trim() === '') ||
              (where === 'existing' && !target)
            }
          >
            {target && replace ? 'Replace' : 'Place'}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}

/** What goes when a group is replaced. */
function Replaced({ swatches }: { swatches: readonly Swatch[] }) {
  const condition = useCondition();
  const first = swatches.slice(0, 8).map((s) => swatchLabel(s, condition));
  return (
    <p className={css.goes} role="alert">
      {swatches.length === 0
        ? 'The group is empty, so nothing goes.'
        : `This removes ${count(swatches.length, 'swatch', 'swatches')}: ${first.join(', ')}${swatches.length > 8 ? ` and ${swatches.length - 8} more` : ''}. Undo brings them back.`}
    </p>
  );
}
