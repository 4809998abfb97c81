import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { TriangleAlert } from 'lucide-react';
import { useState } from 'react';
import { useRouteLoaderData } from 'react-router';
import type { loader as rootLoader } from '~/root';
import { useOpenFiles } from '../open/OpenFiles';
import { Controls } from './Controls';
import { PaletteList } from './PaletteList';
import { PictureView } from './PictureView';
import { usePalette } from './palette';
import { usePicture } from './picture';

/** Gather › Picture: a palette from a picture. */
export function Gather() {
  const { picture, client, close } = usePicture();
  const openFiles = useOpenFiles();
  const ready = !!picture?.opened;
  const palette = usePalette(client, ready);
  const [drawn, setDrawn] = useState(true);
  return (
    <main className="stage" style={{ gridColumn: '2 / -1' }}>
      <div className="toolbar">
        <strong>Picture</strong>
        <span className="caption" style={{ marginLeft: 'auto' }}>
          Drop a picture or a swatch file anywhere
        </span>
        {picture && (
          <Button variant="text" onClick={openFiles}>
            Open another
          </Button>
        )}
      </div>
      {!picture && (
        <div style={{ margin: 'auto', maxWidth: 380, textAlign: 'center', padding: 20 }}>
          <h1 style={{ fontSize: 20, lineHeight: '26px', margin: 0 }}>Take colours from a picture</h1>
          <p className="second" style={{ margin: '8px 0 18px' }}>
            Drop one here, paste one, or open a file: PNG, JPEG, WebP, GIF, AVIF, BMP or TIFF, up to 40
            megapixels. It stays on this machine.
          </p>
          <Button variant="contained" onClick={openFiles}>
            Open a picture
          </Button>
          <Samples />
        </div>
      )}
      {picture?.problem && (
        <div role="alert" style={{ margin: 'auto', maxWidth: 460, padding: 20 }}>
          <p style={{ display: 'grid', gridTemplateColumns: '24px 1fr', overflowWrap: 'anywhere' }}>
            <TriangleAlert size={16} aria-hidden style={{ marginTop: 1 }} />
            <span>{picture.problem}</span>
          </p>
          <Button variant="contained" onClick={openFiles} sx={{ ml: 3 }}>
            Open another picture
          </Button>
        </div>
      )}
      {picture?.stage && (
        <div role="status" style={{ margin: 'auto', width: 320 }}>
          <p className="cut" style={{ fontWeight: 600, margin: '0 0 4px' }}>
            {picture.name}
          </p>
          <p className="second" style={{ margin: '0 0 10px' }}>
            {picture.stage}…
          </p>
          <LinearProgress />
          <Button sx={{ mt: 2 }} onClick={close}>
            Cancel
          </Button>
        </div>
      )}
      {picture?.opened && client && (
        <div className="gather-columns">
          <PictureView
            name={picture.name}
            opened={picture.opened}
            client={client}
            palette={palette}
            drawn={drawn && palette.method !== 'point'}
            setDrawn={setDrawn}
          />
          <Controls palette={palette} opaque={picture.opened.opaque} />
          <PaletteList palette={palette} pictureName={picture.name} width={picture.opened.width} />
        </div>
      )}
    </main>
  );
}

/** The demo's own pictures, to begin with at once; there are none elsewhere. */
function Samples() {
  const { open } = usePicture();
  const samples = useRouteLoaderData<typeof rootLoader>('root')?.samples ?? [];
  if (samples.length === 0) return null;
  const take = async (name: string) => {
    const response = await fetch(`/samples/${name}`);
    if (response.ok) open(new File([await response.blob()], name));
  };
  return (
    <div style={{ marginTop: 34 }}>
      <p className="caption" style={{ margin: '0 0 8px' }}>
        Or begin with a sample
      </p>
      <div style={{ display: 'flex', gap: 10, justifyContent: 'center' }}>
        {samples.map((name) => (
          <button
            key={name}
            type="button"
            aria-label={`Sample ${name}`}
            title={name}
            onClick={() => void take(name)}
            style={{ border: 0, padding: 0, background: 'none', cursor: 'pointer' }}
          >
            <img
              src={`/samples/${name}`}
              alt=""
              width={112}
              height={84}
              style={{ display: 'block', objectFit: 'cover' }}
            />
          </button>
        ))}
      </div>
    </div>
  );
}
