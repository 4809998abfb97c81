/** The crew scarf: a ship under steam between two bands of rope stitches, mm. */
export function scarf(): string {
  const [W, H] = [420, 360];
  const [cloth, band, deep, hull, house, red, gold, gull, thread, wave] = [
    '#d8cfae',
    '#7c9e9f',
    '#5d8086',
    '#2c4c80',
    '#f3ede0',
    '#c8102e',
    '#d7a63c',
    '#ffffff',
    '#7b9d9d',
    '#a9bfb6',
  ];
  const n = (v: number) => String(Number(v.toFixed(2)));
  const stitches = (id: string, y: number) => `<line id="${id}" x1="16" y1="${y}" x2="${W - 16}" y2="${y}"/>`;
  // a wave is drawn once and laid side by side
  const waves = (y: number, from: number, count: number, step: number) =>
    Array.from({ length: count }, (_, i) => `<use href="#wave" x="${n(from + i * step)}" y="${y}"/>`).join(
      '',
    );
  const knots = Array.from({ length: 26 }, (_, i) => {
    const x = 28 + i * 14;
    return `<path d="M${n(x)} 27l7 -9 7 9 -7 9z"/><path d="M${n(x)} 333l7 -9 7 9 -7 9z"/>`;
  }).join('');
  const windows = Array.from(
    { length: 6 },
    (_, i) => `<circle cx="${n(166 + i * 15)}" cy="178" r="4.2"/>`,
  ).join('');
  const bird = (x: number, y: number, s: number) =>
    `<path transform="translate(${x} ${y}) scale(${s})" d="M0 9C12 -4 26 -3 34 10 42 -3 56 -4 68 9 55 2 45 6 34 20 23 6 13 2 0 9Z"/>`;
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${W}mm" height="${H}mm" viewBox="0 0 ${W} ${H}">
  <title>Crew scarf</title>
  <defs>
    <path id="wave" d="M0 6C6 0 12 0 18 6 24 12 30 12 36 6L36 9C30 15 24 15 18 9 12 3 6 3 0 9Z"/>
  </defs>
  <rect id="cloth" x="8" y="8" width="${W - 16}" height="${H - 16}" rx="10" fill="${cloth}"/>
  <g id="border" fill="${band}">
    <rect x="8" y="8" width="${W - 16}" height="38"/>
    <rect x="8" y="${H - 46}" width="${W - 16}" height="38"/>
  </g>
  <g id="knots" fill="${deep}">${knots}</g>
  <g id="stitching" fill="none" stroke="${thread}" stroke-width="1.6" stroke-dasharray="7 4" stroke-linecap="round">
    ${stitches('stitching-top', 52)}
    ${stitches('stitching-bottom', H - 52)}
    <rect x="13" y="13" width="${W - 26}" height="${H - 26}" rx="6"/>
  </g>
  <g id="sun" fill="${gold}"><circle cx="322" cy="112" r="26"/></g>
  <g id="gulls" fill="${gull}">${bird(66, 96, 1)}${bird(246, 74, 0.8)}${bird(120, 70, 0.55)}</g>
  <g id="ship">
    <path id="hull" fill="${hull}" d="M92 214L318 214L286 258L134 258Z"/>
    <path id="waterline" fill="${red}" d="M126.7 248L293.3 248L286 258L134 258Z"/>
    <rect id="deckhouse" fill="${house}" x="152" y="166" width="106" height="48"/>
    <g id="funnel"><rect fill="${red}" x="196" y="126" width="26" height="40"/><rect fill="${hull}" x="196" y="126" width="26" height="10"/></g>
    <g id="portholes" fill="${hull}">${windows}</g>
    <path id="gilding" fill="none" stroke="${gold}" stroke-width="2.4" d="M99 222L312 222"/>
  </g>
  <g id="waves" fill="${wave}">${waves(262, 48, 9, 36)}${waves(275, 30, 10, 36)}${waves(288, 48, 9, 36)}</g>
</svg>
`;
}
