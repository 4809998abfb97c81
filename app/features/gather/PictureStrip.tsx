import { X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { ALL, type OpenPicture, type PictureState, type PictureStore } from '~/state/picture-store';

/** The open pictures, one to be chosen, or all as one. */
export function PictureStrip({ store, state }: { store: PictureStore; state: PictureState }) {
  const { pictures, shown } = state;
  if (pictures.length < 2) return null;
  return (
    <nav className="picture-strip" aria-label="Pictures">
      {pictures.map((p) => (
        <span key={p.id} className="picture-tile" data-current={p.id === shown}>
          <button
            type="button"
            aria-pressed={p.id === shown}
            aria-label={p.name}
            title={p.problem ?? p.name}
            onClick={() => store.show(p.id)}
          >
            <Thumbnail picture={p} />
          </button>
          <button
            type="button"
            className="x"
            aria-label={`Close ${p.name}`}
            onClick={() => store.close(p.id)}
          >
            <X size={12} />
          </button>
        </span>
      ))}
      {pictures.filter((p) => p.opened).length > 1 && (
        <button type="button" className="tab" aria-pressed={shown === ALL} onClick={() => store.show(ALL)}>
          All together
        </button>
      )}
    </nav>
  );
}

export function Thumbnail({ picture, large = false }: { picture: OpenPicture; large?: boolean }) {
  const url = useObjectUrl(picture.opened?.thumbnail ?? null);
  if (!url) return <span className="thumbnail caption">{picture.problem ? '!' : '…'}</span>;
  return <img className={large ? 'thumbnail large' : 'thumbnail'} src={url} alt="" />;
}

function useObjectUrl(blob: Blob | null): string | null {
  const [url, setUrl] = useState<string | null>(null);
  useEffect(() => {
    if (!blob) return;
    const made = URL.createObjectURL(blob);
    setUrl(made);
    return () => URL.revokeObjectURL(made);
  }, [blob]);
  return url;
}
