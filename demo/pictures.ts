import { clamp, clouds, mix, noise, type Rgb, ramp, shade, step } from './painter.ts';

const known = new Map<string, Rgb>();
/** Asked for at every pixel, and so worked out once. */
function hex(code: string): Rgb {
  let color = known.get(code);
  if (!color) {
    color = [1, 3, 5].map((i) => Number.parseInt(code.slice(i, i + 2), 16)) as Rgb;
    known.set(code, color);
  }
  return color;
}

const navy = hex('#14304a');
const red = hex('#b3262b');
const paper = hex('#f3ecdf');

/** Dawn over the water: sky, sun, hills, the ferry, its light on the waves and one red buoy. */
export function harbour(x: number, y: number): Rgb {
  const horizon = 0.58;
  const sky: [number, Rgb][] = [
    [0, hex('#20344a')],
    [0.35, hex('#4a7180')],
    [0.62, hex('#9fb9b0')],
    [0.8, hex('#ecd3a6')],
    [1, hex('#e89a66')],
  ];
  const cloud = clouds(x * 3, y * 14, 3) * step(0.1, 0.5, y) * 0.5;
  const skyAt = (v: number): Rgb =>
    mix(ramp(sky, clamp(v / horizon)), hex('#f2c9a0'), cloud * step(0.4, 0.7, clouds(x * 2, v * 9, 9)));
  const sun = Math.hypot((x - 0.31) * 1.33, y - 0.5);
  let color: Rgb;
  if (y < horizon) {
    color = mix(skyAt(y), hex('#fff0c4'), 0.55 * (1 - step(0, 0.26, sun)));
    color = mix(color, hex('#ffe6a6'), 1 - step(0.05, 0.054, sun));
    for (const [height, tone, seed, rough] of [
      [0.08, '#7f8f95', 21, 3],
      [0.05, '#47606b', 22, 4],
      [0.028, '#2a4250', 23, 7],
    ] as const) {
      const ridge = horizon - height * (0.35 + clouds(x * rough, 0.5, seed));
      color = mix(
        color,
        mix(hex(tone), hex('#e0a878'), 0.18 * (1 - step(0, 0.5, Math.abs(x - 0.31)))),
        step(ridge - 0.002, ridge + 0.002, y),
      );
    }
  } else {
    const depth = (y - horizon) / (1 - horizon);
    const wave = clouds(x * (10 - 5 * depth), y * (90 - 50 * depth), 31);
    const mirror = skyAt(horizon * clamp(1 - depth * 1.1 - (wave - 0.5) * 0.5));
    color = mix(mirror, hex('#18303f'), 0.25 + 0.5 * depth);
    const glitter = step(0.56, 0.66, wave) * (1 - step(0.02, 0.16 + 0.16 * depth, Math.abs(x - 0.31)));
    color = mix(color, hex('#f6c58c'), 0.9 * glitter);
    color = mix(color, hex('#0f2331'), 0.45 * step(0.55, 0.7, clouds(x * 14, y * 120, 41)));
  }
  return ferry(x, y, buoy(x, y, color, horizon), horizon);
}

function buoy(x: number, y: number, under: Rgb, horizon: number): Rgb {
  const d = Math.hypot((x - 0.13) * 1.33, y - horizon - 0.2);
  let color = mix(
    under,
    shade(red, 0.6),
    0.7 * (1 - step(0.012, 0.03, Math.hypot((x - 0.13) * 1.33 * 0.8, (y - horizon - 0.245) * 0.9))),
  );
  const lit = clamp(1.25 - ((x - 0.12) * 30 + (y - horizon - 0.19) * 18));
  color = mix(color, shade(hex('#cf2a2c'), 0.65 + 0.45 * lit), 1 - step(0.026, 0.028, d));
  return color;
}

function ferry(x: number, y: number, under: Rgb, horizon: number): Rgb {
  const at = (left: number, top: number, right: number, bottom: number, slant = 0) => {
    const inset = slant * ((y - top) / (bottom - top));
    return (
      step(left + inset - 0.001, left + inset + 0.001, x) *
      (1 - step(right - inset - 0.001, right - inset + 0.001, x)) *
      step(top - 0.001, top + 0.001, y) *
      (1 - step(bottom - 0.001, bottom + 0.001, y))
    );
  };
  const water = horizon + 0.085;
  const mirror =
    step(water, water + 0.004, y) *
    (1 - step(water + 0.02, water + 0.11, y)) *
    step(0.57, 0.62, x) *
    (1 - step(0.84, 0.9, x));
  let color = mix(under, navy, 0.65 * mirror * step(0.35, 0.6, clouds(x * 8, y * 100, 51)));
  const wear = 0.9 + 0.2 * clouds(x * 40, y * 40, 61);
  color = mix(color, shade(hex('#c9402f'), wear), at(0.71, horizon - 0.16, 0.75, horizon - 0.1));
  color = mix(color, shade(hex('#1c2328'), wear), at(0.708, horizon - 0.172, 0.752, horizon - 0.158));
  color = mix(
    color,
    shade(paper, wear * (0.82 + 0.25 * (1 - step(0.64, 0.84, x)))),
    at(0.645, horizon - 0.1, 0.83, horizon - 0.01),
  );
  const windows = step(0.35, 0.4, (x * 46) % 1) * at(0.652, horizon - 0.075, 0.823, horizon - 0.05);
  color = mix(color, mix(hex('#2b4454'), hex('#f0b867'), noise(Math.floor(x * 46), 2, 9)), windows);
  color = mix(color, shade(navy, wear), at(0.57, horizon - 0.015, 0.9, water, 0.035));
  color = mix(color, shade(hex('#d9a441'), wear), at(0.575, horizon + 0.012, 0.9, horizon + 0.02, 0.008));
  return mix(color, shade(red, wear), at(0.6, water - 0.022, 0.872, water, 0.008));
}

/** A coil of rope on oiled teak, a white enamel mug with a blue rim, brass and sea-green cloth. */
export function ropeAndEnamel(x: number, y: number): Rgb {
  const plank = Math.floor(y * 6);
  const seam = Math.abs(y * 6 - plank - 0.5) > 0.485 ? 0.45 : 1;
  const veins = clouds(x * 5 + plank * 7, y * 60, 5 + plank);
  let color = shade(
    mix(hex('#5b3820'), hex('#a06a3c'), veins),
    seam * (0.8 + 0.3 * clouds(x * 1.5, y * 1.5, 8)),
  );

  const cloth = step(0.62, 0.64, x + 0.2 * y + 0.03 * clouds(y * 3, 0, 2));
  const weave = 0.88 + 0.12 * Math.sin(x * 900) * Math.sin(y * 700);
  const fold = 0.65 + 0.6 * clouds(x * 3 + y * 2, y * 0.8, 17);
  color = mix(color, shade(hex('#3f8276'), fold * weave), cloth);

  const dx = (x - 0.33) * 1.33;
  const dy = y - 0.55;
  const r = Math.hypot(dx, dy);
  const turn = Math.atan2(dy, dx);
  const shadow = 1 - 0.5 * (1 - step(0.36, 0.43, Math.hypot(dx - 0.02, dy - 0.03)));
  color = shade(color, r > 0.37 || r < 0.1 ? shadow : 1);
  if (r > 0.1 && r < 0.375) {
    const lap = (r - 0.1) / 0.055 + turn / (2 * Math.PI);
    const across = lap - Math.floor(lap);
    const round = Math.sin(Math.PI * across);
    const strand = 0.5 + 0.5 * Math.sin(turn * 26 * (r / 0.2) + across * 5);
    const rope = mix(hex('#8a6a3c'), hex('#ead7a8'), round * (0.45 + 0.5 * strand));
    const stripe = Math.floor(lap) === 3 ? mix(rope, red, 0.75 * step(0.3, 0.7, strand)) : rope;
    color = shade(stripe, 0.55 + 0.5 * round * (0.8 + 0.4 * clouds(x * 60, y * 60, 3)));
  }

  const mx = (x - 0.76) * 1.33;
  const my = y - 0.36;
  const m = Math.hypot(mx, my);
  color = shade(color, 1 - 0.45 * (1 - step(0.19, 0.26, Math.hypot(mx - 0.03, my - 0.04))));
  const light = clamp(0.62 - (mx + my) * 1.4);
  if (m < 0.2) color = shade(hex('#e9ebe6'), 0.72 + 0.36 * light);
  if (m < 0.2 && m > 0.186) color = shade(hex('#27508f'), 0.7 + 0.5 * light);
  if (m < 0.165)
    color = mix(shade(hex('#3a2013'), 0.7 + 0.5 * light), hex('#8a5a34'), 0.6 * step(0.12, 0.165, m));
  const chipped = Math.hypot(mx + 0.13, my - 0.11);
  if (chipped < 0.014 + 0.008 * clouds(x * 50, y * 50, 4)) color = hex('#23262a');

  const ring = Math.abs(Math.hypot((x - 0.8) * 1.33, y - 0.8) - 0.085);
  const brass = step(0, 0.024, 0.024 - ring);
  return mix(
    color,
    mix(hex('#6f4c16'), hex('#f2d37c'), clamp(1 - ring / 0.024 + 0.3 * Math.sin(x * 40 + y * 25))),
    brass > 0.02 ? 1 : 0,
  );
}

/** A sea chart under a lamp: depths, land, a ruled course, a brass divider and a red pencil. */
export function chartTable(x: number, y: number): Rgb {
  const table = shade(mix(hex('#2b1a12'), hex('#5a3922'), clouds(x * 30, y * 3, 71)), 0.9);
  const skew = y + 0.06 * x;
  const onPaper =
    step(0.08, 0.083, skew) *
    (1 - step(0.93, 0.933, skew)) *
    step(0.06, 0.063, x - 0.04 * y) *
    (1 - step(0.95, 0.953, x - 0.04 * y));
  const height = clouds(x * 2.6 + 3, y * 2.6, 81) + 0.18 * (x - 0.4);
  const sheet = clouds(x * 90, y * 90, 83, 3);
  let chart: Rgb = ramp(
    [
      [0.3, hex('#7fb0c4')],
      [0.42, hex('#a9cbd3')],
      [0.5, hex('#d3e2df')],
      [0.515, hex('#e8e6d2')],
      [0.52, hex('#e6cf97')],
      [0.75, hex('#c9a968')],
    ],
    height,
  );
  const contour = Math.abs(((height * 26) % 1) - 0.5);
  chart = mix(
    chart,
    height < 0.515 ? hex('#4a7f99') : hex('#94763f'),
    0.55 * (1 - step(0.02, 0.06, contour)),
  );
  if (Math.abs(height - 0.517) < 0.0025) chart = hex('#3b3a33');
  const grid = Math.min(Math.abs(((x * 7) % 1) - 0.5), Math.abs(((skew * 5) % 1) - 0.5));
  chart = mix(chart, hex('#5e6a70'), 0.5 * (1 - step(0.002, 0.006, grid)));
  const course = Math.abs(y - 0.86 + 0.72 * x);
  if (course < 0.0035 && x > 0.16 && x < 0.84)
    chart = mix(chart, hex('#c2338a'), step(0.3, 0.35, (x * 30) % 1));
  chart = shade(chart, 0.93 + 0.1 * sheet);
  const fold = 1 - 0.12 * (1 - step(0, 0.012, Math.abs(x - 0.5)));
  let color = mix(shade(table, 1), shade(chart, fold), onPaper);

  for (const [ax, ay, bx, by] of [
    [0.62, 0.2, 0.5, 0.62],
    [0.62, 0.2, 0.72, 0.6],
  ] as const) {
    const t = clamp(((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2));
    const d = Math.hypot((x - ax - t * (bx - ax)) * 1.33, y - ay - t * (by - ay));
    const thick = 0.017 * (1 - 0.75 * t);
    color = shade(
      color,
      1 -
        0.4 *
          (1 -
            step(
              thick,
              thick + 0.02,
              Math.hypot((x - 0.012 - ax - t * (bx - ax)) * 1.33, y - 0.016 - ay - t * (by - ay)),
            )),
    );
    if (d < thick) color = mix(hex('#7a5518'), hex('#f4d98a'), clamp(1 - d / thick) ** 0.7);
  }
  const px = (x - 0.2) * 0.94 + (y - 0.8) * 0.34;
  const py = (y - 0.8) * 0.94 - (x - 0.2) * 0.34;
  if (px > -0.08 && px < 0.2 && Math.abs(py) < 0.014)
    color = px > 0.17 ? hex('#e0bd8a') : shade(hex('#c1272d'), 1.15 - 30 * Math.abs(py + 0.004));
  const lamp = Math.hypot((x - 0.38) * 1.2, y - 0.34);
  const warm = mix(
    shade(color, 0.36),
    [color[0] * 1.12, color[1] * 1.03, color[2] * 0.86],
    1 - step(0.1, 0.85, lamp),
  );
  return warm;
}
