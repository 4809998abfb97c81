import Button from '@mui/material/Button';
import { Link, useSearchParams } from 'react-router';
import type { KeptPicture } from '~/state/picture-store';
import { useOpenFiles } from '../open/OpenFiles';
import { CodesSource } from './CodesSource';
import { PictureSource } from './PictureSource';

const SOURCES = [
  { id: 'picture', label: 'Picture' },
  { id: 'codes', label: 'Codes' },
] as const;

/** Gather: a quiet list of sources, all of which fill the tray. */
export function Gather({ kept = [] }: { kept?: KeptPicture[] }) {
  const [search] = useSearchParams();
  const openFiles = useOpenFiles();
  const source = search.get('from') === 'codes' ? 'codes' : 'picture';
  return (
    <main className="stage" style={{ gridColumn: '2 / -1' }}>
      <nav className="toolbar" aria-label="Sources">
        {SOURCES.map(({ id, label }) => (
          <Link
            key={id}
            className="source"
            to={id === 'picture' ? '?' : `?from=${id}`}
            aria-current={source === id ? 'page' : undefined}
          >
            {label}
          </Link>
        ))}
        <span className="caption" style={{ marginLeft: 'auto' }}>
          Drop pictures or a swatch file anywhere
        </span>
        <Button variant="text" onClick={openFiles}>
          Open…
        </Button>
      </nav>
      {source === 'picture' ? <PictureSource kept={kept} /> : <CodesSource />}
    </main>
  );
}
