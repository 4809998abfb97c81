import { memo } from 'react';

/** What a chart shows, as a table for those who cannot see it. */
export const UnseenTable = memo(function UnseenTable({
  caption,
  head,
  rows,
}: {
  caption: string;
  head: readonly string[];
  rows: readonly (readonly (string | number)[])[];
}) {
  return (
    <div className="unseen">
      <table>
        <caption>{caption}</caption>
        <thead>
          <tr>
            {head.map((label) => (
              <th key={label} scope="col">
                {label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, i) => (
            <tr key={i}>
              {row.map((cell, k) =>
                k === 0 ? (
                  <th key={k} scope="row">
                    {cell}
                  </th>
                ) : (
                  <td key={k}>{cell}</td>
                ),
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
});
