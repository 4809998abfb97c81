import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect, useRef, useState } from 'react';
import { useFetcher, useRevalidator } from 'react-router';
import type { ListedBackup } from '#server/backup';
import type { Job } from '#server/jobs';
import { Empty } from '~/ui/empty';
import { Stage } from '~/ui/Frame';
import { Notice } from '~/ui/notice';
import { count } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import css from './Backups.module.css';
import type { BackupIntent } from './intents';

const LOOK_MS = 1000;

const WHY: [begins: RegExp, why: string][] = [
  [/^daily-/, 'Daily'],
  [/^before-restore-/, 'Before a restore'],
  [/^before-migration-/, 'Before an update'],
  [/^/, 'On request'],
];
const whyOf = (name: string) => WHY.find(([begins]) => begins.test(name))![1];

const size = (bytes: number) =>
  bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} KB` : `${(bytes / 1e6).toFixed(1)} MB`;
const time = (at: number) =>
  new Intl.DateTimeFormat('en-GB', { dateStyle: 'long', timeStyle: 'short' }).format(new Date(at));

/** Copies of everything, and the way back to one. */
export function Backups({
  backups,
  folder,
  daily,
  job,
}: {
  backups: ListedBackup[];
  folder: string;
  /** Whether one is made every day. */
  daily: boolean;
  job: Job | null;
}) {
  const fetcher = useFetcher<{ begun: boolean }>();
  const { revalidate } = useRevalidator();
  const toast = useToast();
  const [restoring, setRestoring] = useState<ListedBackup | null>(null);
  const running = job !== null && !job.done;

  useEffect(() => {
    if (!running) return;
    const timer = setInterval(() => void revalidate(), LOOK_MS);
    return () => clearInterval(timer);
  }, [running, revalidate]);

  // announced once, when it ends while the page is open
  const told = useRef(job?.done ? job.begun : 0);
  useEffect(() => {
    if (!job?.done || job.begun === told.current) return;
    told.current = job.begun;
    if (job.done.ok) toast({ text: job.what === 'backup' ? 'Backup made.' : 'Backup restored.' });
  }, [job, toast]);

  const ask = (intent: BackupIntent) =>
    fetcher.submit(intent, { method: 'post', encType: 'application/json', action: '/backups' });
  const busy = running || fetcher.state !== 'idle';

  return (
    <Stage wide>
      <div className={css.page}>
        <div className={css.head}>
          <h1 className="title">Backups</h1>
          <Button variant="contained" disabled={busy} onClick={() => void ask({ intent: 'backup' })}>
            Back up now
          </Button>
        </div>
        <p className={`second ${css.intro}`}>
          A backup holds all libraries, books, pictures, artwork, profiles and the whole history.{' '}
          {daily
            ? 'Papillon makes one every day while its server runs, and one before every update. It keeps the last seven days and four weeks.'
            : 'Daily backups are turned off (PAPILLON_BACKUPS=off).'}{' '}
          The files are in <span className={`mono ${css.folder}`}>{folder}</span>.
        </p>
        {running && (
          <div className={css.running}>
            <p role="status">{job.what === 'backup' ? 'Making a backup…' : 'Restoring the backup…'}</p>
            <LinearProgress aria-label={job.what === 'backup' ? 'Making a backup' : 'Restoring the backup'} />
          </div>
        )}
        {job?.done && !job.done.ok && <Notice>{job.done.says}</Notice>}
        {backups.length === 0 ? (
          <Empty
            level="h2"
            title="No backups yet"
            text={daily ? 'The first one is made within a few minutes.' : 'Make one with “Back up now”.'}
          />
        ) : (
          <table className={css.table}>
            <thead>
              <tr className="caption">
                <th scope="col">Made</th>
                <th scope="col">Why</th>
                <th scope="col" className={css.number}>
                  Libraries and books
                </th>
                <th scope="col" className={css.number}>
                  Swatches
                </th>
                <th scope="col" className={css.number}>
                  Size
                </th>
                <th scope="col">
                  <span className="unseen">Restore</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {backups.map((b) => (
                <tr key={b.name}>
                  <td>
                    <strong suppressHydrationWarning>{time(b.at)}</strong>
                    <div className="caption mono">{b.name}</div>
                  </td>
                  <td>{whyOf(b.name)}</td>
                  <td className={`mono ${css.number}`}>{b.libraries}</td>
                  <td className={`mono ${css.number}`}>{b.swatches.toLocaleString('en-GB')}</td>
                  <td className={`mono ${css.number}`}>{size(b.bytes)}</td>
                  <td className={css.end}>
                    <Button disabled={busy} onClick={() => setRestoring(b)}>
                      Restore…
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
      {restoring && (
        <Dialog open onClose={() => setRestoring(null)} maxWidth="xs">
          <DialogTitle>Restore this backup?</DialogTitle>
          <DialogContent>
            <p className={css.intro}>
              Everything in Papillon is replaced by the {count(restoring.swatches, 'swatch', 'swatches')} of{' '}
              {time(restoring.at)}. What has been added or changed since then is replaced, too.
            </p>
            <p className="second">
              Papillon first makes a backup of what there is now. It appears in this list, and can be restored
              in the same way.
            </p>
          </DialogContent>
          <DialogActions>
            <Button onClick={() => setRestoring(null)}>Cancel</Button>
            <Button
              variant="contained"
              onClick={() => {
                void ask({ intent: 'restore', name: restoring.name });
                setRestoring(null);
              }}
            >
              Restore
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </Stage>
  );
}
