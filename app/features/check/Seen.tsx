import { useId } from 'react';
import { VISIONS, type Vision, visionMatrix, visionNames } from '#core/color/index';
import { Choose } from '~/ui/options';
import css from './Seen.module.css';

/** How the stage is looked at. */
export interface Sight {
  eye: Vision;
  /** Of the filter that shows it so. */
  id: string;
}

/** The whole stage as another eye sees it: the matrix works on linear light, as the filter does. */
export function Seen({ sight, onChange }: { sight: Sight | null; onChange(sight: Sight | null): void }) {
  const id = useId().replace(/[^\w-]/g, '');
  const m = visionMatrix(sight?.eye ?? 'deutan', 1);
  const rows = [0, 3, 6].map((i) => `${m[i]} ${m[i + 1]} ${m[i + 2]} 0 0`);
  return (
    <div className={css.seen}>
      <Choose
        label="look as"
        value={sight?.eye ?? ''}
        values={[['', 'most people see'], ...VISIONS.map((v) => [v, visionNames[v]] as const)]}
        onChange={(eye) => onChange(eye ? { eye: eye as Vision, id } : null)}
      />
      <svg width="0" height="0" aria-hidden className={css.filter}>
        <filter id={id} colorInterpolationFilters="linearRGB">
          <feColorMatrix type="matrix" values={`${rows.join(' ')} 0 0 0 1 0`} />
        </filter>
      </svg>
    </div>
  );
}
