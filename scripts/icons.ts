// Draws the icons of an installed Papillon from its mark: tsx scripts/icons.ts
import sharp from 'sharp';

const WINGS =
  '<path d="M3 5l8 2v13l-4-1-1-4H3z" fill="#161616"/><path d="M21 5l-8 2v13l4-1 1-4h3z" fill="none" stroke="#161616" stroke-width="1.3"/>';
/** @param part of the side that the mark takes: systems cut up to a fifth off each side of a maskable icon */
const icon = (part: number) => {
  const side = 24 / part;
  const margin = (side - 24) / 2;
  return `<svg xmlns="http://www.w3.org/2000/svg" width="512" height="512" viewBox="${-margin} ${-margin} ${side} ${side}"><rect x="${-margin}" y="${-margin}" width="${side}" height="${side}" fill="#cbcbcb"/>${WINGS}</svg>`;
};
for (const [name, size, part] of [
  ['192', 192, 0.8],
  ['512', 512, 0.8],
  ['maskable-512', 512, 0.58],
] as const)
  await sharp(Buffer.from(icon(part)))
    .resize(size, size)
    .png({ compressionLevel: 9, palette: true })
    .toFile(`public/icons/${name}.png`);
