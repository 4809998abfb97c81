import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import { TriangleAlert } from 'lucide-react';
import { nanoid } from 'nanoid';
import { useState } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import { countSwatches, type Edit, isLoose, type Library } from '#core/swatch/index';
import { createLibrary } from '~/state/create';
import { openStores } from '~/state/library-store';
import { count, Strip, stripColors } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import type { Read } from './read';

/** Shows what came in before anything is kept: as new libraries, or added to the open one. */
export function Review({ reads, onClose }: { reads: Read[]; onClose(): void }) {
  const good = reads.flatMap((r) => (r.kind === 'swatches' ? [r] : []));
  const bad = reads.flatMap((r) => (r.kind === 'problem' ? [r] : []));
  const [names, setNames] = useState(() => good.map((r) => r.opened.library.name));
  const { id } = useParams();
  const here = id ? openStores.get(id) : undefined;
  const [where, setWhere] = useState<'new' | 'add'>('new');
  const [busy, setBusy] = useState(false);
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const toast = useToast();

  const keep = async () => {
    if (busy) return;
    setBusy(true);
    const libraries = good.map((r, i): Library => ({ ...r.opened.library, name: names[i] }));
    if (where === 'add' && here) {
      here.edit({ type: 'sequence', edits: groupEdits(libraries, here.snapshot().library.groups.length) });
      onClose();
      if (!pathname.endsWith('/arrange')) navigate(`/libraries/${id}/arrange`);
      toast({
        text: `${good.map((r) => r.name).join(', ')} added.`,
        action: { label: 'Undo', run: () => here.undo() },
      });
      return;
    }
    const made: string[] = [];
    for (const library of libraries) {
      const created = await createLibrary(library);
      if (created) made.push(created);
    }
    if (made.length < libraries.length) {
      setBusy(false);
      toast({ text: 'Not everything could be kept: the server does not answer. Try again.' });
      return;
    }
    onClose();
    navigate(made.length === 1 ? `/libraries/${made[0]}/arrange` : '/');
  };

  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void keep();
        }}
      >
        <DialogTitle>
          {good.length > 0 ? `Open ${count(good.length, 'file')}` : 'This could not be opened'}
        </DialogTitle>
        <DialogContent>
          {bad.map((r, i) => (
            <p
              key={i}
              role="alert"
              style={{
                display: 'grid',
                gridTemplateColumns: '22px 1fr',
                margin: '6px 0 12px',
                overflowWrap: 'anywhere',
              }}
            >
              <TriangleAlert size={15} style={{ marginTop: 2 }} aria-hidden />
              <span>{r.message}</span>
            </p>
          ))}
          {good.map((r, i) => {
            const { library, format, warnings } = r.opened;
            const groups = library.groups.filter((g) => !isLoose(library, g)).length;
            return (
              <section key={i} style={{ padding: '8px 0 12px' }}>
                <div className="caption cut" style={{ marginBottom: 5 }} title={r.name}>
                  {r.name} · {format.name} · {count(countSwatches(library), 'swatch', 'swatches')}
                  {groups > 0 && ` · ${count(groups, 'group')}`}
                </div>
                <Strip
                  colors={stripColors(
                    library.groups.flatMap((g) => g.swatches),
                    160,
                  )}
                  height={30}
                />
                <input
                  className="plain-input"
                  style={{ marginTop: 8, padding: '4px 8px' }}
                  aria-label={`Name for ${r.name}`}
                  value={names[i]}
                  onChange={(e) => setNames(names.with(i, e.target.value))}
                />
                {warnings.map((w) => (
                  <p key={w} className="caption" style={{ margin: '6px 0 0' }}>
                    {w}
                  </p>
                ))}
              </section>
            );
          })}
          {here && good.length > 0 && (
            <RadioGroup value={where} onChange={(_, v) => setWhere(v as 'new' | 'add')} aria-label="Where to">
              <FormControlLabel
                value="new"
                control={<Radio />}
                label={good.length === 1 ? 'A new library' : 'A new library for each'}
              />
              <FormControlLabel
                value="add"
                control={<Radio />}
                label={`Add to ${here.snapshot().library.name}. Nothing is replaced.`}
              />
            </RadioGroup>
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>{good.length > 0 ? 'Cancel' : 'Close'}</Button>
          {good.length > 0 && (
            <Button type="submit" variant="contained" disabled={busy} autoFocus>
              {where === 'add' ? 'Add' : good.length === 1 ? 'Open as a library' : 'Open as libraries'}
            </Button>
          )}
        </DialogActions>
      </form>
    </Dialog>
  );
}

/** Groups keep their names; swatches in no group come as a group named after the file. All go to the end. */
function groupEdits(libraries: Library[], end: number): Edit[] {
  const groups = libraries.flatMap((library) =>
    library.groups
      .filter((g) => !isLoose(library, g) || g.swatches.length > 0)
      .map((g) => ({
        id: nanoid(12),
        name: isLoose(library, g) ? library.name : g.name,
        swatches: g.swatches.map((s) => ({ ...s, id: nanoid(12) })),
      })),
  );
  return groups.map((group, i) => ({ type: 'addGroup', group, index: end + i }));
}
