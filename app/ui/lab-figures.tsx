import { type Lab, labToLch } from '#core/color/index';
import css from './lab-figures.module.css';

/** Without a sign on nothing. */
const tenth = (v: number) => (Math.abs(v) < 0.05 ? 0 : v).toFixed(1);

/** What is measured of one colour, or of two side by side, under what each is called. */
export function LabFigures({ labs, heads }: { labs: readonly Lab[]; heads?: readonly string[] }) {
  const lch = labs.map((lab) => labToLch(lab));
  const rows: [string, string[]][] = [
    ...['L*', 'a*', 'b*'].map((name, i): [string, string[]] => [name, labs.map((lab) => tenth(lab[i]!))]),
    ['chroma', lch.map(([, chroma]) => chroma.toFixed(1))],
    ['hue', lch.map(([, , hue]) => `${hue.toFixed(0)}°`)],
  ];
  return (
    <table className={css.figures}>
      {heads && (
        <thead>
          <tr className="caption">
            <td />
            {heads.map((head) => (
              <th key={head} scope="col">
                {head}
              </th>
            ))}
          </tr>
        </thead>
      )}
      <tbody>
        {rows.map(([name, figures]) => (
          <tr key={name}>
            <th scope="row" className="second">
              {name}
            </th>
            {figures.map((figure, i) => (
              <td key={i} className="mono">
                {figure}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
