const SEA = ['07:10', '08:25', '10:05', '11:40', '13:20', '15:00', '16:45', '18:15', '19:50'];
const ISLES = ['Kestrelmere', 'Ling Holm', 'Saltpan', 'Outer Wick', 'Hag’s Head'];

/** The winter timetable: gradients, text, and codes that screens and converters have shifted; A4, mm. */
export function timetable(): string {
  const lines = ISLES.map((isle, r) => {
    const y = 92 + r * 30;
    const hours = SEA.map((time, i) => {
      const [h, m] = time.split(':').map(Number) as [number, number];
      const minutes = h * 60 + m + r * 17;
      const said = `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
      return `<text x="${20 + i * 19}" y="${y + 11}">${said}</text>`;
    }).join('');
    // one code on, one code off: what a converter does to a colour
    const rule = r % 2 === 0 ? '#14304a' : '#15304b';
    return `<g id="stop-${r + 1}"><text class="isle" x="20" y="${y}">${isle}</text><g class="hours">${hours}</g><path d="M20 ${y + 16}H190" stroke="${rule}" stroke-width="0.5"/></g>`;
  }).join('\n  ');
  const routes = [
    ['#b3262b', 'North route'],
    ['#15314a', 'South route'],
    ['#2f7d6b', 'Night boat'],
    ['#d8a441', 'Summer only'],
    ['#8fb6c6', 'Winter pier'],
  ]
    .map(
      ([fill, name], i) =>
        `<g id="route-${i + 1}"><title>${name}</title><rect x="${20 + i * 34}" y="252" width="30" height="6" fill="${fill}"/><text class="small" x="${20 + i * 34}" y="265">${name}</text></g>`,
    )
    .join('\n  ');
  return `<svg xmlns="http://www.w3.org/2000/svg" width="210mm" height="297mm" viewBox="0 0 210 297">
  <title>Winter timetable</title>
  <style>
    .isle{font:600 7px sans-serif;fill:#14304a}
    .hours{font:5px sans-serif;fill:#3e3a34}
    .small{font:3.6px sans-serif;fill:#3d3a34}
    .head{font:600 15px sans-serif;fill:#fff}
  </style>
  <defs>
    <linearGradient id="dusk" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="#223849"/><stop offset="0.6" stop-color="#5b757b"/><stop offset="1" stop-color="#e4cda4"/></linearGradient>
    <linearGradient id="water" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="#405b69"/><stop offset="1" stop-color="#223849"/></linearGradient>
  </defs>
  <rect id="paper" width="210" height="297" fill="#fdfcf9"/>
  <rect id="sky" width="210" height="52" fill="url(#dusk)"/>
  <rect id="sea" y="52" width="210" height="16" fill="url(#water)"/>
  <path id="ferry" fill="#b4262b" d="M138 52L186 52L179 60L146 60ZM152 52V44H172V52ZM160 44V37H165V44Z"/>
  <text class="head" x="20" y="30">Winter 2027</text>
  ${lines}
  ${routes}
</svg>
`;
}
