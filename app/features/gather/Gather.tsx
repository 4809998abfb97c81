import Button from '@mui/material/Button';
import { Link, useSearchParams } from 'react-router';
import { useOpenFiles } from '~/features/shared/open/OpenFiles';
import type { KeptPicture } from '~/state/picture-store';
import { useVisitor } from '~/state/root-data';
import { Stage, Toolbar } from '~/ui/Frame';
import { useOneStop } from '~/ui/one-stop';
import css from './Gather.module.css';
import { sourceIn, sources } from './sources';

/** Gather: a quiet list of sources, all of which fill the tray. */
export function Gather({ kept = [] }: { kept?: KeptPicture[] }) {
  const [search] = useSearchParams();
  const openFiles = useOpenFiles();
  const stop = useOneStop<HTMLElement>();
  const [first] = sources;
  const visitor = useVisitor();
  const source = sourceIn(search);
  return (
    <>
      <Stage wide={!source.Readout}>
        <h1 className="unseen">Gather</h1>
        <Toolbar>
          <nav {...stop} className={css.sources} aria-label="Sources">
            {sources.map(
              (
                s, // books are the owner's
              ) =>
                visitor && s.id === 'book' ? null : (
                  <Link
                    key={s.id}
                    className={css.source}
                    to={s === first ? '?' : `?from=${s.id}`}
                    aria-current={s === source ? 'page' : undefined}
                  >
                    {s.label}
                  </Link>
                ),
            )}
          </nav>
          <span className={`caption ${css.hint}`}>Drop pictures or a swatch file anywhere</span>
          <Button variant="text" onClick={openFiles}>
            Open…
          </Button>
        </Toolbar>
        <source.Stage kept={kept} />
      </Stage>
      {source.Readout && <source.Readout />}
    </>
  );
}
