import { X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { ALL, type OpenPicture, type PictureState, type PictureStore } from '~/state/picture-store';
import { PlainButton } from '~/ui/plain-button';
import css from './PictureStrip.module.css';

/** The open pictures, one to be chosen, or all as one. */
export function PictureStrip({ store, state }: { store: PictureStore; state: PictureState }) {
  const { pictures, shown } = state;
  if (pictures.length < 2) return null;
  return (
    <nav className={css.strip} aria-label="Pictures">
      {pictures.map((p) => (
        <span key={p.id} className={css.tile} data-current={p.id === shown}>
          <PlainButton
            aria-pressed={p.id === shown}
            aria-label={p.name}
            title={p.problem ?? p.name}
            onClick={() => store.show(p.id)}
          >
            <Thumbnail picture={p} />
          </PlainButton>
          <PlainButton
            look="icon"
            className={css.close}
            aria-label={`Close ${p.name}`}
            onClick={() => store.close(p.id)}
          >
            <X size={12} />
          </PlainButton>
        </span>
      ))}
      {pictures.filter((p) => p.opened).length > 1 && (
        <PlainButton look="tab" aria-pressed={shown === ALL} onClick={() => store.show(ALL)}>
          All together
        </PlainButton>
      )}
    </nav>
  );
}

export function Thumbnail({ picture, large = false }: { picture: OpenPicture; large?: boolean }) {
  const url = useObjectUrl(picture.opened?.thumbnail ?? null);
  if (!url) return <span className={`${css.thumbnail} caption`}>{picture.problem ? '!' : '…'}</span>;
  return <img className={css.thumbnail} data-large={large} src={url} alt="" />;
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
