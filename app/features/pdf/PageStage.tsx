import { type CSSProperties, useMemo, useState } from 'react';
import { Separations } from '~/features/shared/artwork/Separations';
import { Lit, WorkView } from '~/features/shared/artwork/WorkView';
import { Divider, rightOf } from '~/ui/divider';
import { Notice } from '~/ui/notice';
import css from './Pdf.module.css';
import { Preview } from './Preview';
import { type PageParts, type PageView, partText } from './use-page-parts';

const NOTHING: ReadonlySet<number> = new Set();

/** A page of a PDF: as it looks, as its plates print it, or beside what it was. */
export function PageStage({
  file,
  before,
  page,
  size,
  view,
  parts: { facts, made, map, plates, why },
  onChoose,
}: {
  file: Blob;
  /** As it came. */
  before: Blob;
  page: number;
  /** Of the page, mm. */
  size: { width: number; height: number };
  view: PageView;
  parts: PageParts;
  /** Of the part that is clicked, its ink. */
  onChoose(ink: string): void;
}) {
  const [over, setOver] = useState<number | null>(null);
  const [divider, setDivider] = useState(50);
  const found = useMemo(() => {
    if (over === null) return null;
    for (const color of facts?.colors ?? []) {
      const part = color.parts.find((p) => p.id === over);
      if (part) return { color, part };
    }
    return null;
  }, [facts, over]);
  const lit = useMemo(() => (found ? new Set([found.part.id]) : NOTHING), [found]);
  if (view === 'press') {
    if (why) return <Notice>{`The plates cannot be shown: ${why}`}</Notice>;
    if (made) return <Separations name={`page ${page + 1}`} made={made} plates={plates} />;
    return (
      <p role="status" className="second">
        Looking through the page…
      </p>
    );
  }
  return (
    <WorkView
      size={size}
      map={view === 'page' ? map : null}
      label={`Page ${page + 1}. Arrow keys point at parts, Enter chooses the ink of the one pointed at, plus and minus zoom.`}
      onPoint={(id) => setOver(id)}
      onChoose={(id) => {
        const ink = facts?.colors.find((c) => c.parts.some((p) => p.id === id))?.ink;
        if (ink) onChoose(ink.name);
      }}
      layers={(on) => <Lit over={on} lit={lit} />}
      below={
        <span className="cut" role="status">
          {found && view === 'page' ? partText(found.color, found.part) : (why ?? '')}
        </span>
      }
    >
      {({ style }) => (
        <>
          {view === 'change' && <Preview file={before} page={page} style={style} />}
          <span className={css.layer} style={clipped(view, divider)}>
            <Preview file={file} page={page} style={style} />
          </span>
          {view === 'change' && (
            <Divider
              value={divider}
              onChange={setDivider}
              label="Divider between the page as it came and as it is now"
            />
          )}
        </>
      )}
    </WorkView>
  );
}

const clipped = (view: PageView, divider: number): CSSProperties =>
  view === 'change' ? { clipPath: rightOf(divider) } : {};
