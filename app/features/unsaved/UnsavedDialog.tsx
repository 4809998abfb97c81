import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { nanoid } from 'nanoid';
import { useState } from 'react';
import { screenOnly } from '#core/color/index';
import { addGroups, type Salvaged, salvage } from '#core/swatch/index';
import { LibraryChoice } from '~/features/shared/merge/LibraryChoice';
import type { Stranded } from '~/state/outbox';
import { useStore } from '~/state/store';
import { type Stores, useStores } from '~/state/stores';
import { download } from '~/ui/download';
import { Notice } from '~/ui/notice';
import { count } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';
import css from './UnsavedDialog.module.css';

const titleOf = ({ library, name }: Stranded) =>
  library === 'tray' ? 'Tray' : name || 'Library without a name';

const salvaged = (stores: Stores, stranded: Stranded): Salvaged => {
  const { changes, rows } = stores.outbox.strandedChanges(stranded);
  return salvage(changes, rows, `Unsaved, ${titleOf(stranded)}`, () => nanoid(12));
};

/** What can be done with changes that were made for other data than the server has now. */
export function UnsavedDialog({ onClose }: { onClose(): void }) {
  const stores = useStores();
  const { stranded } = useStore(stores.outbox);
  const [adding, setAdding] = useState<Stranded | null>(null);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>{adding ? `Add changes to a library` : 'Changes that are not saved'}</DialogTitle>
      {adding ? (
        <AddTo stranded={adding} onBack={() => setAdding(null)} />
      ) : (
        <>
          <DialogContent>
            <p className={css.intro}>
              The server’s data are not those these changes were made for, such as a restored backup or
              another data folder. They are kept in this browser. If the earlier data come back, Papillon
              saves them by itself.
            </p>
            {stranded.length === 0 && <p className="second">No changes are left.</p>}
            <ul className={css.list}>
              {stranded.map((s) => (
                <One key={`${s.epoch} ${s.library}`} stranded={s} onAdd={() => setAdding(s)} />
              ))}
            </ul>
          </DialogContent>
          <DialogActions>
            <Button variant="contained" onClick={onClose}>
              {stranded.length === 0 ? 'Close' : 'Wait'}
            </Button>
          </DialogActions>
        </>
      )}
    </Dialog>
  );
}

function One({ stranded, onAdd }: { stranded: Stranded; onAdd(): void }) {
  const stores = useStores();
  const toast = useToast();
  const [asking, setAsking] = useState(false);
  const title = titleOf(stranded);

  const save = async () => {
    const { papillon } = await import('#core/formats/papillon/papillon');
    const { changes } = stores.outbox.strandedChanges(stranded);
    const { groups } = salvaged(stores, stranded);
    // it opens like any other of Papillon’s files, and has the changes as they were made beside the swatches
    const text = new TextDecoder().decode(
      papillon.encode({ id: nanoid(12), name: title, groups }, { condition: screenOnly }),
    );
    const file = { ...JSON.parse(text), changes };
    download(
      `${title.replace(/[\\/:*?"<>|]/g, '-').slice(0, 80)} unsaved changes.papillon.json`,
      new Blob([JSON.stringify(file)]),
      'application/json',
    );
    toast({ text: `${count(stranded.changes, 'change')} to ${title} downloaded.` });
  };

  return (
    <li className={css.one}>
      <div className={css.what}>
        <strong dir="auto" className="cut" title={title}>
          {title}
        </strong>
        <span className="caption">{count(stranded.changes, 'change')}</span>
      </div>
      {asking ? (
        <div className={css.acts}>
          <span className="second">Discard for good?</span>
          <Button onClick={() => setAsking(false)}>Keep</Button>
          <Button onClick={() => stores.outbox.discard(stranded)}>Discard</Button>
        </div>
      ) : (
        <div className={css.acts}>
          <Button onClick={() => void save()}>Download</Button>
          <Button onClick={onAdd}>Add to a library…</Button>
          <Button onClick={() => setAsking(true)}>Discard…</Button>
        </div>
      )}
    </li>
  );
}

function AddTo({ stranded, onBack }: { stranded: Stranded; onBack(): void }) {
  const stores = useStores();
  const toast = useToast();
  const [found] = useState(() => salvaged(stores, stranded));
  const [target, setTarget] = useState({ id: '', name: '' });
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  const swatches = found.groups.reduce((n, g) => n + g.swatches.length, 0);

  const add = async (fresh: boolean) => {
    setBusy(true);
    setProblem('');
    try {
      const name = titleOf(stranded);
      if (fresh) {
        const none = { id: nanoid(12), name: '', swatches: [] };
        await stores.createLibrary({ id: nanoid(12), name, groups: [none, ...found.groups] });
        toast({ text: `${count(swatches, 'swatch', 'swatches')} added to the new library “${name}”.` });
      } else {
        const store = stores.library(target.id);
        const added = store.edit(addGroups(await store.whole(), found.groups));
        if (!added) throw new Error('That library cannot be changed now. Nothing was added; try again.');
        toast({
          text: `${count(swatches, 'swatch', 'swatches')} added to “${target.name}”.`,
          ...wayBack([store, added]),
        });
      }
      stores.outbox.discard(stranded);
      onBack();
    } catch (error) {
      setProblem((error as Error).message);
      setBusy(false);
    }
  };

  return (
    <>
      <DialogContent>
        <p className={css.intro}>
          {swatches > 0
            ? `The changes hold ${count(swatches, 'swatch', 'swatches')} that can be added as they were to be.`
            : 'The changes hold no swatch that can be added without the library they were made for. Download them instead.'}
        </p>
        {swatches > 0 && found.left > 0 && (
          <Notice>
            {count(found.left, 'other change')} cannot be added, such as a new name without its colour.
            Download the changes first to keep all of them.
          </Notice>
        )}
        {swatches > 0 && (
          <LibraryChoice without="" value={target.id} onChange={(id, name) => setTarget({ id, name })} />
        )}
        {problem && <Notice>{problem}</Notice>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onBack}>Back</Button>
        <Button disabled={busy || swatches === 0} onClick={() => void add(true)}>
          New library
        </Button>
        <Button
          variant="contained"
          disabled={busy || swatches === 0 || !target.id}
          onClick={() => void add(false)}
        >
          Add
        </Button>
      </DialogActions>
    </>
  );
}
