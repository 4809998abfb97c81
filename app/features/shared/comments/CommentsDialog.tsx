import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { type Commented, commentedIn, countOpen } from '#core/swatch/index';
import { usePart, useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useLibrary } from '~/state/workspace';
import { CommitField } from '~/ui/commit-field';
import { download } from '~/ui/download';
import { PlainButton } from '~/ui/plain-button';
import { useToast } from '~/ui/toast';
import { Choices } from './Choices';
import { Comments } from './Comments';
import css from './CommentsDialog.module.css';
import { useThreads } from './use-commenting';

/** Where something that is commented on is looked at. */
const PLACES: Record<string, (library: string, id: string) => string> = {
  swatch: (library) => `/libraries/${library}/arrange`,
  gradient: (library) => `/libraries/${library}/arrange`,
  board: (library, id) => `/libraries/${library}/arrange?view=board&board=${id}`,
  colourway: (library) => `/libraries/${library}/apply`,
  reading: (library) => `/libraries/${library}/gather?from=reading`,
};

/** All comments of a library, by what they are on; or those on one thing. */
export function CommentsDialog({ about, onClose }: { about?: Commented; onClose(): void }) {
  const { store, select } = useLibrary();
  const { me } = useStores();
  const name = usePart(me, (m) => m.name);
  const { library } = useStore(store);
  const threads = useThreads(store);
  const navigate = useNavigate();
  const toast = useToast();
  const [showsAll, setShowsAll] = useState(false);
  const all = useMemo(() => commentedIn(library), [library]);
  const open = all.filter(({ id }) => countOpen(threads.get(id)) > 0);
  const shown = about ? [about] : showsAll ? all : open;
  const show = ({ id, kind }: Commented) => {
    if (kind === 'swatch') select([id]);
    onClose();
    void navigate(PLACES[kind]!(store.id, id));
  };
  const save = async () => {
    const { writeComments } = await import('#core/formats/csv/comments');
    download(`${library.name || 'library'} comments.csv`, writeComments(library), 'text/csv');
  };
  const rename = (next: string) =>
    void me
      .rename(next)
      .catch((error: Error) => toast({ text: `The name was not kept. ${error.message}`, stays: true }));
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Comments</DialogTitle>
      <DialogContent>
        {shown.length === 0 && (
          <p className="second">
            {all.length > 0
              ? 'All comments are resolved.'
              : 'No comments yet. Choose a swatch and write below its values; links that allow comments let others do so, too.'}
          </p>
        )}
        {shown.map((one) => (
          <section key={one.id} className={css.one} aria-label={one.name || one.kind}>
            <h3 className={css.head}>
              <span className="cut" dir="auto">
                {one.kind === '' ? 'On what has been deleted' : one.name || `${one.kind} without a name`}
              </span>
              <span className="caption">{one.kind}</span>
              {PLACES[one.kind] && !about && (
                <PlainButton look="link" className={css.show} onClick={() => show(one)}>
                  Show<span className="unseen"> {one.name}</span>
                </PlainButton>
              )}
            </h3>
            <Comments on={one.id} name={one.name || one.kind} />
          </section>
        ))}
        {!about && all.length > open.length && (
          <PlainButton look="link" className="caption" onClick={() => setShowsAll(!showsAll)}>
            {showsAll
              ? 'Show open ones only'
              : `Show ${all.length - open.length} more with resolved comments`}
          </PlainButton>
        )}
        {!about && <Choices />}
        <div className={css.me}>
          <label className="second" htmlFor="own-name">
            You write as
          </label>
          <CommitField
            id="own-name"
            value={name ?? ''}
            placeholder="your name"
            most={80}
            onCommit={(next) => next.trim() && rename(next.trim())}
          />
        </div>
      </DialogContent>
      <DialogActions>
        {!about && all.length > 0 && <Button onClick={() => void save()}>Save as CSV</Button>}
        <Button variant="contained" onClick={onClose}>
          Done
        </Button>
      </DialogActions>
    </Dialog>
  );
}
