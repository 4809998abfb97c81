import { useState } from 'react';
import { destinations } from '#core/formats/destinations';
import { formatFacts } from '#core/formats/facts';
import type { FormatFacts } from '#core/formats/format';
import { Stage } from '~/ui/Frame';
import { Field } from '~/ui/field';
import { count } from '~/ui/swatch';
import css from './Formats.module.css';

/** What a format carries of a library, in words. */
function carriesOf({ traits }: FormatFacts): string {
  if (traits.gradientsOnly) return 'gradients';
  const list = [
    traits.names && 'names',
    traits.groups && 'groups',
    traits.kinds.includes('spot') && 'spot inks',
    traits.kinds.includes('technical') && 'technical swatches',
    traits.surfaces && 'surfaces of materials',
  ].filter(Boolean);
  const most = traits.most ? `, up to ${traits.most.toLocaleString('en-GB')} swatches` : '';
  return `${list.length > 0 ? list.join(', ') : 'colours alone'}${most}`;
}

const SPACES: Record<string, string> = {
  rgb: 'RGB',
  cmyk: 'CMYK',
  lab: 'Lab',
  gray: 'gray',
  hsb: 'HSB',
  hsl: 'HSL',
};

const spacesOf = ({ traits: { spaces } }: FormatFacts) =>
  spaces.length > 5
    ? `${spaces.length} colour spaces`
    : spaces.map((s) => SPACES[s] ?? s.toUpperCase()).join(', ');

const usesOf = (id: string) => destinations.filter((d) => d.formats.some((f) => f.format === id));

/** Every format: what it keeps, which kinds of program take it, and where such programs look for it. */
export function Formats() {
  const [typed, setTyped] = useState('');
  const wanted = typed.trim().toLocaleLowerCase('en');
  const shown = formatFacts.filter((f) =>
    [f.name, f.about, ...f.endings, ...usesOf(f.id).map((d) => d.name)]
      .join(' ')
      .toLocaleLowerCase('en')
      .includes(wanted),
  );
  return (
    <Stage wide>
      <div className={css.page}>
        <div className={css.head}>
          <h1 className="title">Formats</h1>
          <Field
            className={css.find}
            placeholder="Name, ending or kind of work"
            aria-label="Find a format"
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
          />
        </div>
        <p className={`second ${css.intro}`} role="status">
          {count(shown.length, 'format')}. Hand over shows for each swatch what a format changes.
        </p>
        <table className={css.table}>
          <thead className="caption">
            <tr>
              <th scope="col">Format</th>
              <th scope="col">Keeps</th>
              <th scope="col">Colours</th>
              <th scope="col">Used for</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((f) => (
              <tr key={f.id}>
                <th scope="row" className={css.name}>
                  {f.name}
                  <span className={`caption ${css.beside}`}>
                    .{f.endings.join(' .')} ·{' '}
                    {[f.traits.read && 'read', f.traits.write && 'written'].filter(Boolean).join(' and ')}
                  </span>
                </th>
                <td>
                  {f.about}
                  <span className={`caption ${css.beside}`}>{carriesOf(f)}</span>
                </td>
                <td>{spacesOf(f)}</td>
                <td>
                  {usesOf(f.id).map((d) => (
                    <details key={d.id}>
                      <summary>{d.name}</summary>
                      <p className={`caption ${css.beside}`}>{d.place}</p>
                    </details>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Stage>
  );
}
