import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { FolderSync } from 'lucide-react';
import { useEffect, useState } from 'react';
import type { KitChoices } from '#core/formats/plan';
import { folderOf } from '~/features/shared/folder/use-folder';
import type { LibraryStore } from '~/state/library-store';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { PlainButton } from '~/ui/plain-button';
import { count } from '~/ui/swatch';
import { when } from '~/ui/when';
import css from './KitBar.module.css';

type Picks = {
  showDirectoryPicker?(how: { id: string; mode: 'readwrite' }): Promise<FileSystemDirectoryHandle>;
};

const MAX_NAMED = 5;

interface Props {
  store: LibraryStore;
  choices: KitChoices;
  disabled: boolean;
}

/** The folder that has the kit’s files whenever the library changes: how it stands, and what can be done with it. */
export function FolderLine(props: Props) {
  // what is on this computer the server does not know
  const [isHere, setHere] = useState(false);
  useEffect(() => setHere(true), []);
  return isHere ? <Folder {...props} /> : null;
}

function Folder({ store, choices, disabled }: Props) {
  const stores = useStores();
  const folder = folderOf(stores, store);
  const { name, standing, at, files, problem, foreign } = useStore(folder);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [refused, setRefused] = useState('');
  const pick = (window as Picks).showDirectoryPicker?.bind(window);
  const shut = () => setAnchor(null);
  const link = async () => {
    setRefused('');
    try {
      const handle = await pick!({ id: 'papillon-kit', mode: 'readwrite' });
      shut();
      await folder.link(handle, choices);
    } catch (error) {
      // whoever thinks better of it has said nothing
      if ((error as DOMException).name !== 'AbortError') setRefused((error as Error).message);
    }
  };
  const isOther = name !== null && JSON.stringify(folder.choices) !== JSON.stringify(choices);
  const said = {
    none: 'Folder…',
    asks: `${name}: allow again`,
    ready: `${name}: up to date`,
    working: `${name}: writing…`,
    paused: `${name}: paused`,
  }[standing];
  return (
    <>
      <PlainButton
        look="tab"
        className={css.presets}
        aria-haspopup="dialog"
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        <FolderSync size={14} aria-hidden />
        <span className="cut">{said}</span>
      </PlainButton>
      <Popover
        open={!!anchor}
        anchorEl={anchor}
        onClose={shut}
        anchorOrigin={{ vertical: 'top', horizontal: 'left' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <div className={css.folder} role="dialog" aria-label="Linked folder">
          <p className="second">
            {name === null
              ? 'A folder of this computer can have the kit’s files whenever the library changes, while it is open here. Only files that Papillon wrote are replaced.'
              : `${name} has ${count(files, 'file')} of the kit${at === null ? '' : `, written ${when(new Date(at), new Date())}`}.`}
          </p>
          {problem && <p role="alert">{problem}</p>}
          {refused && <p role="alert">The folder could not be linked. {refused}</p>}
          {foreign.length > 0 && (
            <p role="alert">
              Not written by Papillon, or changed since: {foreign.slice(0, MAX_NAMED).join(', ')}
              {foreign.length > MAX_NAMED && ` and ${foreign.length - MAX_NAMED} more`}. Move them away, or
              replace them.
            </p>
          )}
          {!pick && name === null && (
            <p>
              This browser cannot write to folders. From the shell, “papillon watch” keeps the file of a link
              up to date.
            </p>
          )}
          <div className={css.ways}>
            {name === null && pick && (
              <Button variant="contained" disabled={disabled} onClick={() => void link()}>
                Choose a folder…
              </Button>
            )}
            {standing === 'asks' && (
              <Button variant="contained" onClick={() => void folder.allow()}>
                Allow again
              </Button>
            )}
            {(standing === 'ready' || standing === 'paused') && (
              <Button variant="contained" onClick={() => void folder.allow()}>
                Update now
              </Button>
            )}
            {foreign.length > 0 && <Button onClick={() => void folder.update(true)}>Replace them</Button>}
            {isOther && !disabled && (
              <Button onClick={() => void folder.choose(choices)}>Write what is chosen now</Button>
            )}
            {name !== null && (
              <Button
                onClick={() => {
                  void folder.unlink();
                  shut();
                }}
              >
                Unlink
              </Button>
            )}
          </div>
        </div>
      </Popover>
    </>
  );
}
