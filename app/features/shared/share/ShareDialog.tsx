import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { Plus } from 'lucide-react';
import { useState } from 'react';
import { useRouteLoaderData } from 'react-router';
import { boardsOf } from '#core/swatch/index';
import type { FileLink, Link, PageLink } from '#server/links';
import { useStore } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { Notice } from '~/ui/notice';
import { PlainButton } from '~/ui/plain-button';
import { FileLinkRow } from './FileLinkRow';
import { NewFileLink } from './NewFileLink';
import { PageLinkRow } from './PageLinkRow';
import css from './Share.module.css';
import { useLinks } from './use-links';

const isPage = (link: Link): link is Link<PageLink> => link.data.is === 'page';
const isFile = (link: Link): link is Link<FileLink> => link.data.is === 'file';

/** Links to a library: pages to look at, and files that stay up to date. */
export function ShareDialog({ onClose }: { onClose(): void }) {
  const { store } = useLibrary();
  const { library } = useStore(store);
  const links = useLinks(store.id);
  const [making, setMaking] = useState(false);
  const root = useRouteLoaderData('root') as { password: boolean } | undefined;
  const boards = boardsOf(library);
  const pages = links.list?.filter(isPage) ?? [];
  const files = links.list?.filter(isFile) ?? [];
  const add = () =>
    links.make({ is: 'page', name: 'New link', access: 'view', board: null, formats: null, expires: null });
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle dir="auto">Share {library.name}</DialogTitle>
      <DialogContent>
        <p className={`second ${css.intro}`}>
          Anyone with a link can open what it shows and nothing else. You can revoke a link at any time.
        </p>
        {root && !root.password && (
          <Notice>
            This Papillon asks for no password: whoever reaches it can open everything. Set PAPILLON_PASSWORD
            on the server, and links are all that others can open.
          </Notice>
        )}
        {links.problem && <p role="alert">{links.problem}</p>}
        {links.list && (
          <>
            <div className={css.table}>
              <div className={`caption ${css.head}`} aria-hidden>
                <span>Name</span>
                <span>Access</span>
                <span>Shows</span>
                <span>Downloads</span>
                <span>Last used</span>
              </div>
              {pages.map((link) => (
                <PageLinkRow key={link.id} link={link} links={links} boards={boards} />
              ))}
              <PlainButton look="tab" className={css.add} onClick={() => void add()}>
                <Plus size={13} aria-hidden /> New link
              </PlainButton>
            </div>
            <h3 className={css.second}>File links</h3>
            <p className={`second ${css.intro}`}>
              An address that always returns the current colours, for a style sheet, a build or a script.
              Unchanged files are not sent again.
            </p>
            <div className={css.table}>
              {files.map((link) => (
                <FileLinkRow key={link.id} link={link} links={links} library={library} />
              ))}
              {files.length === 0 && !making && <p className={`caption ${css.none}`}>No file links yet.</p>}
            </div>
            {making && (
              <NewFileLink
                library={library}
                onMake={async (data) => {
                  if (await links.make(data)) setMaking(false);
                }}
                onCancel={() => setMaking(false)}
              />
            )}
          </>
        )}
      </DialogContent>
      <DialogActions>
        {!making && links.list && <Button onClick={() => setMaking(true)}>New file link…</Button>}
        <Button variant="contained" onClick={onClose}>
          Done
        </Button>
      </DialogActions>
    </Dialog>
  );
}
