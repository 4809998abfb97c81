import Popover from '@mui/material/Popover';
import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import { type ArtworkItem, removeArtwork, setArtwork } from '#core/swatch/index';
import { sizeOf } from '~/features/shared/artwork/made';
import { useShutDrawers } from '~/ui/Frame';
import { NumberField } from '~/ui/number-field';
import { PlainButton } from '~/ui/plain-button';
import { count } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';
import { sizeText } from './entries';
import type { ApplyState } from './use-apply';
import css from './WorkList.module.css';

/** The artwork of the library. */
export function WorkList({ state, onOpen }: { state: ApplyState; onOpen(): void }) {
  const { artworks, artwork, store, strays } = state;
  const shut = useShutDrawers();
  const toast = useToast();
  const remove = (one: ArtworkItem) => {
    const done = store.edit(removeArtwork(store.rows, one));
    if (done) toast({ text: `${one.name} was removed.`, ...wayBack([store, done]) });
  };
  return (
    <section aria-label="Artwork" className={css.works}>
      <h2 className={`caption ${css.heading}`}>Artwork</h2>
      {artworks.map((one) => {
        const current = one === artwork;
        return (
          <div key={one.id} className={css.work} data-chosen={current}>
            <PlainButton
              className={css.open}
              aria-current={current}
              onClick={() => {
                state.open(one.id);
                shut();
              }}
            >
              <span className={css.name}>
                <span className="cut" dir="auto" title={one.name}>
                  {one.name}
                </span>
                <span className="second">
                  {one.data.parts.toLocaleString('en-GB')}
                  <span className="unseen"> {one.data.parts === 1 ? 'part' : 'parts'}</span>
                </span>
              </span>
            </PlainButton>
            <span className={`caption ${css.facts}`}>
              <Size state={state} one={one} /> · {count(one.data.count, 'colour')}
              {current && strays.length > 0 && ` · ${strays.length} off the library`}
            </span>
            <PlainButton
              look="icon"
              className={css.remove}
              aria-label={`Take ${one.name} away`}
              title="Remove it from the library"
              onClick={() => remove(one)}
            >
              <X size={13} />
            </PlainButton>
          </div>
        );
      })}
      <PlainButton look="tab" className={css.add} onClick={onOpen}>
        <Plus size={13} /> Open artwork
      </PlainButton>
    </section>
  );
}

/** The size it has; where only pixels are stated, the user says what they are worth. */
function Size({ state, one }: { state: ApplyState; one: ArtworkItem }) {
  const { store, artwork, facts } = state;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { data } = one;
  const { worth } = data;
  const size = one === artwork && facts ? sizeOf(one, facts) : null;
  const stated = sizeText(size ?? data);
  if (data.unit === 'mm' || !size) return <span>{stated}</span>;
  const set = (next: typeof worth) => {
    const { worth: _, ...rest } = data;
    store.edit(
      next
        ? setArtwork(one, 'set the size of', { worth: next })
        : {
            label: `set the size of “${one.name}”`,
            ops: [{ op: 'set', of: 'item', id: one.id, fields: { data: rest } }],
          },
    );
  };
  const ppi = worth && 'ppi' in worth ? worth.ppi : null;
  return (
    <>
      <PlainButton
        look="link"
        aria-haspopup="dialog"
        aria-expanded={!!anchor}
        title="This drawing has no physical size. Set its width."
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        {stated}
      </PlainButton>
      <Popover
        open={!!anchor}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <div className={css.size} role="dialog" aria-label="Size of the artwork">
          <strong>How large is the artwork?</strong>
          <p className="caption">
            It states {data.width.toLocaleString('en-GB')} × {data.height.toLocaleString('en-GB')} pixels and
            no length.
          </p>
          <fieldset className={css.ways} aria-label="Pixels per inch">
            {[96, 72].map((n) => (
              <PlainButton look="tab" key={n} aria-pressed={ppi === n} onClick={() => set({ ppi: n })}>
                {n} to an inch
              </PlainButton>
            ))}
            <PlainButton look="tab" aria-pressed={!worth} onClick={() => set(undefined)}>
              not said
            </PlainButton>
          </fieldset>
          <NumberField
            label="or so wide"
            unit="mm"
            value={size.unit === 'mm' ? size.width : (size.width * 25.4) / 96}
            min={1}
            max={20000}
            decimals={1}
            onChange={(width) => set({ width })}
          />
          <p role="status">
            {size.unit === 'mm'
              ? `${sizeText(size)}, on paper and in every file.`
              : 'Files are exported in pixels.'}
          </p>
        </div>
      </Popover>
    </>
  );
}
