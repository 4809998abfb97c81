import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { Fragment } from 'react';
import { Link, useLocation } from 'react-router';
import { keysShown, type Shortcut, shortcuts } from '~/ui/shortcuts';
import { helpOf } from './help';
import css from './Shortcuts.module.css';

/** What the screen is for, how its commonest jobs are done, and what the keyboard does. */
export function Shortcuts({ onClose }: { onClose(): void }) {
  const { pathname } = useLocation();
  const { title, about, jobs } = helpOf(pathname);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>{title}</DialogTitle>
      <DialogContent>
        <p className={css.about}>{about}</p>
        <div className={css.jobs}>
          {jobs.map((job) => (
            <section key={job.title}>
              <h3 className={css.job}>{job.title}</h3>
              <ol>
                {job.steps.map((step) => (
                  <li key={step}>{step}</li>
                ))}
              </ol>
            </section>
          ))}
        </div>
        <p className={css.more}>
          <Link to="/formats" onClick={onClose}>
            All formats: what each keeps, and how to open it
          </Link>
        </p>
        <h3 className={css.job}>Keys</h3>
        <dl className={css.keys}>
          {Object.entries<Shortcut>(shortcuts).map(([id, shortcut]) => (
            <Fragment key={id}>
              <dt>{keysShown(shortcut)}</dt>
              <dd>{shortcut.does}</dd>
            </Fragment>
          ))}
        </dl>
      </DialogContent>
    </Dialog>
  );
}
