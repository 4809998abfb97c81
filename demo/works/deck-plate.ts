/** A plate for the deck: where the ring buoy hangs. White below the print, a line to cut and one to fold, mm. */
export function deckPlate(): string {
  const segments = [0, 90, 180, 270]
    .map(
      (turn) =>
        `<path transform="rotate(${turn + 20} 26 27.5)" d="M26 13.5A14 14 0 0 1 36.7 18.5L31.3 23.1A7 7 0 0 0 26 20.5Z"/>`,
    )
    .join('');
  const steps = [0, 1, 2, 3]
    .map((i) => `<rect x="${52 + i * 6}" y="${36 - i * 5.4}" width="6.4" height="${4 + i * 5.4}"/>`)
    .join('');
  return `<svg xmlns="http://www.w3.org/2000/svg" width="85mm" height="55mm" viewBox="0 0 85 55">
  <title>Deck plate</title>
  <rect id="underprint" x="2" y="2" width="81" height="51" rx="4" fill="#bfbfbf"/>
  <rect id="ground" x="2" y="2" width="81" height="51" rx="4" fill="#f2c14a"/>
  <g id="ring-buoy"><circle cx="26" cy="27.5" r="14" fill="#f7f4ec"/><circle cx="26" cy="27.5" r="7" fill="#f2c14a"/></g>
  <g id="bands" fill="#b8252c">${segments}</g>
  <g id="stairs" fill="#1c2733">${steps}</g>
  <path id="arrow" fill="#1c2733" d="M52 12H66V8.4L74 14.4L66 20.4V16.8H52Z"/>
  <path id="fold" fill="none" stroke="#7a5bd0" stroke-width="0.35" d="M44 2V53"/>
  <g id="holes" fill="none" stroke="#ef6a18" stroke-width="0.25"><circle cx="6.5" cy="6.5" r="1.6"/><circle cx="78.5" cy="6.5" r="1.6"/><circle cx="6.5" cy="48.5" r="1.6"/><circle cx="78.5" cy="48.5" r="1.6"/></g>
</svg>
`;
}
