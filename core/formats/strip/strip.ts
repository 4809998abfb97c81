import { encode as encodePng } from 'fast-png';
import { fromRgb8 } from '../../color/index.ts';
import { paintGradient } from '../../gradient/index.ts';
import { optionOf } from '../../options.ts';
import { gradientsOf, resolvedStops } from '../../swatch/gradient.ts';
import { allSwatches } from '../../swatch/model.ts';
import { decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { gradientOf } from '../ggr/ggr.ts';
import { ownPicture } from '../png/png.ts';

const KEYWORD = 'Papillon strips';
/** What renderers and browsers still open as one picture. */
const MAX_ROWS = 16_384;

export const strip: PlainFormat = {
  id: 'strip',
  name: 'PNG strip',
  about:
    'Gradients as strips of pixels, for textures and ramps. A library without any is one through its swatches.',
  endings: ['png'],
  mime: 'image/png',
  options: [
    { id: 'width', label: 'Width', type: 'number', min: 2, max: 4096, initial: 1024, unit: 'px' },
    { id: 'height', label: 'Height of each', type: 'number', min: 1, max: 512, initial: 64, unit: 'px' },
  ],
  traits: {
    // a PNG is opened as a picture; decode is here for reading our own back
    read: false,
    write: true,
    names: false,
    groups: false,
    gradientsOnly: true,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 8,
  },

  recognise: () => 0,

  decode: decoder((bytes, draft) => {
    const { picture, laid } = ownPicture(bytes, KEYWORD, 'strip of gradients');
    const { width, channels, data } = picture;
    const count = Math.min(Number(laid.count), picture.height);
    for (let k = 0; k < count; k++) {
      const row = Math.floor(((k + 0.5) * picture.height) / count) * width;
      const at = (x: number) => (row + x) * channels;
      const places = Array.from({ length: Math.min(64, width) }, (_, i, n = Math.min(64, width)) =>
        Math.round((i * (width - 1)) / Math.max(1, n - 1)),
      );
      draft.addGradient({
        name: '',
        way: 'srgb',
        stops: places.map((x) => {
          const alpha = channels === 4 ? data[at(x) + 3]! / 255 : 1;
          return {
            at: (x + 0.5) / width,
            color: fromRgb8(data[at(x)]!, data[at(x) + 1]!, data[at(x) + 2]!),
            ...(alpha < 1 ? { alpha } : {}),
          };
        }),
      });
    }
  }),

  encode(library, { condition }, options) {
    const [width, high] = ['width', 'height'].map((id) =>
      Math.round(Number(optionOf(strip, options, id))),
    ) as [number, number];
    const swatches = allSwatches(library);
    const own = gradientsOf(library);
    const gradients = own.length > 0 ? own : [gradientOf(library)];
    const height = Math.max(1, Math.min(high, Math.floor(MAX_ROWS / gradients.length)));
    const byId = new Map(swatches.map((s) => [s.id, s]));
    const data = new Uint8ClampedArray(width * height * gradients.length * 4);
    gradients.slice(0, MAX_ROWS).forEach((gradient, k) => {
      const stops = resolvedStops(gradient, (id) => byId.get(id));
      if (stops.length === 0) return;
      const row = paintGradient(gradient.data, stops, condition, width);
      for (let y = 0; y < height; y++) data.set(row, (k * height + y) * width * 4);
    });
    return new Uint8Array(
      encodePng({
        width,
        height: height * gradients.length,
        data,
        text: { [KEYWORD]: JSON.stringify({ count: gradients.length }) },
      }),
    );
  },
};
