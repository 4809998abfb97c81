import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import { nanoid } from 'nanoid';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import {
  addGroups,
  addSwatches,
  allSwatches,
  isLoose,
  removeSwatches,
  replaceSwatches,
} from '#core/swatch/index';
import { baseName } from '#core/text/names';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useWorkspace } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Field, SelectField } from '~/ui/field';
import { count, groupLabel, Strip, stripColors, swatchLabel } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';
import css from './PlaceDialog.module.css';

type Where = 'library' | 'group' | 'existing';

/** Places what waits in the tray: in a new library, a new group, or a group that is there. */
export function PlaceDialog({ onClose }: { onClose(): void }) {
  const condition = useCondition();
  const stores = useStores();
  const { tray } = stores;
  const swatches = allSwatches(useStore(tray).library);
  const workspace = useWorkspace();
  const library = workspace?.store.snapshot().library;
  // a palette is usually named after the picture it came from
  const source = swatches.find((s) => s.origin?.name)?.origin?.name;
  const [name, setName] = useState(source ? baseName(source) : 'New palette');
  const [where, setWhere] = useState<Where>(workspace ? 'group' : 'library');
  const groups = library?.groups.filter((g) => !isLoose(library, g) || g.swatches.length > 0) ?? [];
  const [groupId, setGroupId] = useState(
    groups.find((g) => g.id === workspace?.groupId)?.id ?? groups[0]?.id ?? '',
  );
  const [replace, setReplace] = useState(false);
  const [busy, setBusy] = useState(false);
  const toast = useToast();
  const navigate = useNavigate();
  const target = groups.find((g) => g.id === groupId);

  const emptyTray = () => tray.edit(removeSwatches(swatches.map((s) => s.id)));
  // the tray keeps its own copies until they are taken out, so each placed swatch gets an id of its own
  const copies = () => swatches.map((s) => ({ ...s, id: nanoid(12) }));

  const place = async () => {
    if (busy) return;
    setBusy(true);
    if (where === 'library' || !workspace || !library) {
      let id: string;
      try {
        id = await stores.createLibrary({
          id: 'new',
          name,
          // they go on to look as they did here
          ...(library?.condition ? { condition: library.condition } : {}),
          groups: [{ id: 'group', name, swatches: copies() }],
        });
      } catch (error) {
        setBusy(false);
        toast({
          text: `The library could not be made. ${(error as Error).message} The tray keeps its colours.`,
        });
        return;
      }
      emptyTray();
      onClose();
      await navigate(`/libraries/${id}/arrange`);
      return;
    }
    const { store } = workspace;
    const into = where === 'group' ? nanoid(12) : groupId;
    const placed = store.edit(
      where === 'group'
        ? addGroups(store.rows, [{ id: into, name, swatches: copies() }])
        : replace
          ? replaceSwatches(store.rows, groupId, copies())
          : addSwatches(store.rows, groupId, copies()),
    );
    if (!placed) {
      setBusy(false);
      return;
    }
    workspace.setGroupId(into);
    const emptied = emptyTray();
    onClose();
    await navigate(`/libraries/${library.id}/arrange`);
    toast({
      text: `${count(swatches.length, 'swatch', 'swatches')} placed.`,
      ...wayBack([store, placed], ...(emptied ? [[tray, emptied] as [typeof tray, string]] : [])),
    });
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
            {workspace && (
              <FormControlLabel value="group" control={<Radio />} label={`A new group in ${library?.name}`} />
            )}
            {workspace && groups.length > 0 && (
              <FormControlLabel value="existing" control={<Radio />} label={`A group of ${library?.name}`} />
            )}
            <FormControlLabel value="library" control={<Radio />} label="A new library" />
          </RadioGroup>
          {where === 'existing' ? (
            <>
              <SelectField
                value={groupId}
                onChange={(e) => setGroupId(e.target.value)}
                className={css.field}
                aria-label="Group"
              >
                {groups.map((g) => (
                  <option key={g.id} value={g.id}>
                    {library && groupLabel(library, library.groups.indexOf(g))}
                  </option>
                ))}
              </SelectField>
              <RadioGroup
                value={replace ? 'replace' : 'add'}
                onChange={(_, v) => setReplace(v === 'replace')}
                sx={{ mt: 1 }}
                aria-label="Add or replace"
              >
                <FormControlLabel value="add" control={<Radio />} label="Add. Nothing is replaced." />
                <FormControlLabel value="replace" control={<Radio />} label="Replace what is in it" />
              </RadioGroup>
              {replace && target && (
                <p className={css.goes} role="alert">
                  {target.swatches.length === 0
                    ? 'The group is empty, so nothing goes.'
                    : `This removes ${count(target.swatches.length, 'swatch', 'swatches')}: ${target.swatches
                        .slice(0, 8)
                        .map((s) => swatchLabel(s, condition))
                        .join(
                          ', ',
                        )}${target.swatches.length > 8 ? ` and ${target.swatches.length - 8} more` : ''}. Undo brings them back.`}
                </p>
              )}
            </>
          ) : (
            <Field
              value={name}
              dir="auto"
              onChange={(e) => setName(e.target.value)}
              className={css.field}
              aria-label={where === 'group' ? 'Name of the group' : 'Name of the library'}
              onFocus={(e) => e.target.select()}
              autoFocus
            />
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Keep in the tray</Button>
          <Button
            type="submit"
            variant="contained"
            disabled={busy || (where !== 'existing' && name.trim() === '')}
          >
            {where === 'existing' && replace ? 'Replace' : 'Place'}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
