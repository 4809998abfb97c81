import { Maximize, ZoomIn, ZoomOut } from 'lucide-react';
import { PlainButton } from './plain-button';
import type { ViewState } from './use-view';
import css from './zoom-buttons.module.css';

/** Closer, further, and how near one is. */
export function ZoomButtons({
  view,
  fitted,
}: {
  view: ViewState /** Of what has no size in pixels: 100 % is all of it in sight. */;
  fitted?: boolean;
}) {
  const percent = (fitted ? view.scale / view.whole : view.scale) * 100;
  return (
    <span className={css.zoom}>
      <PlainButton
        look="icon"
        aria-label="Zoom out"
        onClick={() => view.zoom(1 / 1.5)}
        disabled={view.scale <= view.whole}
      >
        <ZoomOut size={14} />
      </PlainButton>
      <span className="mono caption">{percent < 10 ? percent.toFixed(1) : Math.round(percent)} %</span>
      <PlainButton look="icon" aria-label="Zoom in" onClick={() => view.zoom(1.5)}>
        <ZoomIn size={14} />
      </PlainButton>
      <PlainButton
        look="icon"
        aria-label="Show the whole picture"
        onClick={view.reset}
        disabled={view.scale <= view.whole}
      >
        <Maximize size={13} />
      </PlainButton>
    </span>
  );
}
