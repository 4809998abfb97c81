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
import { writableFacts } from '#core/formats/plan';
import { addGroups, allSwatches, type Library, removeSwatches, subset, withNewIds } from '#core/swatch/index';
import type { LibraryStore } from '~/state/library-store';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';
import { download } from '~/ui/download';
import { Field, SelectField } from '~/ui/field';
import { count, Strip, stripColors } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import { LibraryChoice } from './LibraryChoice';

import css from './SendDialog.module.css';

type Where = 'file' | 'new' | 'other';

/** Takes swatches out of the library: as a file of their own, or into another library. */
export function SendDialog({
  store,
  ids,
  onClose,
}: {
  store: LibraryStore;
  ids: ReadonlySet<string>;
  onClose(): void;
}) {
  const condition = useCondition();
  const { library } = useStore(store);
  const part = subset(library, (s) => ids.has(s.id));
  const swatches = allSwatches(part);
  const [where, setWhere] = useState<Where>('file');
  const [formatId, setFormatId] = useState('ase');
  const [name, setName] = useState(
    part.groups.length === 1 ? part.groups[0].name || library.name : library.name,
  );
  const [target, setTarget] = useState({ id: '', name: '' });
  const [move, setMove] = useState(false);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  const stores = useStores();
  const files = useClient(openFilesClient);
  const toast = useToast();

  const copies = (): Library => ({ ...withNewIds(part, () => nanoid(12)), name });

  const send = async () => {
    if (busy) return;
    setBusy(true);
    setProblem('');
    try {
      if (where === 'file') {
        const file = await files.ask('write', { library: { ...part, name }, choice: { format: formatId } });
        download(file.name, file.bytes, file.mime);
        onClose();
        return;
      }
      const sent = copies();
      const done: [LibraryStore, string][] = [];
      if (where === 'new') {
        await stores.createLibrary(sent).catch((error: Error) => {
          throw new Error(`The library could not be made. ${error.message} Nothing was taken out.`);
        });
      } else {
        const other = stores.library(target.id);
        const rows = await other.whole();
        const groups = sent.groups.map((g) => ({ ...g, name: g.name || name }));
        const added = other.edit(addGroups(rows, groups, undefined, sent.items));
        if (!added) throw new Error('That library cannot be changed now. Nothing was sent; try again.');
        done.push([other, added]);
      }
      const removed =
        move &&
        store.edit(
          removeSwatches(
            swatches.map((s) => s.id),
            store.rows,
          ),
        );
      if (removed) done.push([store, removed]);
      onClose();
      toast({
        text: `${count(swatches.length, 'swatch', 'swatches')} ${move ? 'moved' : 'copied'} to ${where === 'new' ? name : target.name}.`,
        ...(done.length > 0 ? wayBack(...done) : {}),
      });
    } catch (error) {
      setProblem((error as Error).message);
      setBusy(false);
    }
  };

  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        <DialogTitle>Send {count(swatches.length, 'swatch', 'swatches')}</DialogTitle>
        <DialogContent>
          <Strip colors={stripColors(swatches, condition, 120)} height={22} />
          <RadioGroup
            value={where}
            onChange={(_, v) => setWhere(v as Where)}
            sx={{ mt: 2, mb: 1 }}
            aria-label="Where to"
          >
            <FormControlLabel value="file" control={<Radio />} label="A new file" />
            <FormControlLabel value="other" control={<Radio />} label="Another library" />
            <FormControlLabel value="new" control={<Radio />} label="A new library" />
          </RadioGroup>
          {where === 'other' ? (
            <LibraryChoice
              without={library.id}
              value={target.id}
              onChange={(id, title) => setTarget({ id, name: title })}
            />
          ) : (
            <Field
              value={name}
              dir="auto"
              onChange={(e) => setName(e.target.value)}
              onFocus={(e) => e.target.select()}
              autoFocus
              aria-label={where === 'file' ? 'Name of the file' : 'Name of the library'}
            />
          )}
          {where === 'file' ? (
            <SelectField
              className={css.format}
              value={formatId}
              onChange={(e) => setFormatId(e.target.value)}
              aria-label="Format"
            >
              {writableFacts.map((f) => (
                <option key={f.id} value={f.id}>
                  {f.name} · .{f.endings[0]}
                </option>
              ))}
            </SelectField>
          ) : (
            <RadioGroup
              value={move ? 'move' : 'copy'}
              onChange={(_, v) => setMove(v === 'move')}
              sx={{ mt: 1 }}
              aria-label="Copy or move"
            >
              <FormControlLabel value="copy" control={<Radio />} label="Copy. They stay here too." />
              <FormControlLabel value="move" control={<Radio />} label="Move. They leave this library." />
            </RadioGroup>
          )}
          {where === 'file' && (
            <p className={`caption ${css.note}`}>What the format leaves out is shown in Hand over.</p>
          )}
          {problem && <p role="alert">{problem}</p>}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            type="submit"
            variant="contained"
            disabled={
              busy || swatches.length === 0 || (where === 'other' && !target.id) || name.trim() === ''
            }
          >
            {where === 'file' ? 'Download' : move ? 'Move' : 'Copy'}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
