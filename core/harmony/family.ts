import {
  type Color,
  type Condition,
  convert,
  type Lab,
  type Oklch,
  oklabToLab,
  oklchToOklab,
} from '../color/index.ts';
import { type Along, type Asked, EXTRAS, type Extra, type Placed } from './asked.ts';
import { around, type Circle, circleById, turnOf } from './circles.ts';
import { Way } from './even.ts';
import type { Gamut } from './gamuts.ts';
import { type Rule, ruleById, rules } from './rules.ts';

export interface Member {
  /** The same for the same member of a rule, whatever is set. */
  key: string;
  /** Which base it belongs to. */
  base: number;
  role: string;
  /** It is a base itself. */
  isBase: boolean;
  held: boolean;
  /** On the circle, degrees. */
  place: number;
  lch: Oklch;
  color: Color;
  /** The chroma of OKLCh it lost to stay inside the gamut. */
  gaveUp: number;
  /** By how much its lightness had to change for the same reason. */
  lightened: number;
  /** Of a base outside the gamut, which stays as it is: what it would be inside. */
  inside?: Color;
}

export const AS_BASE: Along = { by: 'base', amount: 0, bend: 1 };

export const plainAsked = (color: Color, name?: string): Asked => ({
  bases: [{ color, ...(name ? { name } : {}) }],
  rule: 'split',
  circle: 'perceptual',
  lightness: { by: 'spread', amount: 0.12, bend: 1 },
  chroma: AS_BASE,
  also: ['lighter', 'neutral'],
});

export const ruleOf = ({ rule }: Pick<Asked, 'rule'>): Rule => ruleById(rule) ?? rules[0]!;

const inRange = (v: number, { min, max }: { min: number; max: number }) => Math.min(max, Math.max(min, v));

export const angleOf = (asked: Pick<Asked, 'rule' | 'angle'>): number => {
  const { angle } = ruleOf(asked);
  return angle ? inRange(asked.angle ?? angle.initial, angle) : 0;
};
export const countOf = (asked: Pick<Asked, 'rule' | 'count'>): number => {
  const { count } = ruleOf(asked);
  return count ? Math.round(inRange(asked.count ?? count.initial, count)) : 0;
};

/** Steps so close to the edge of a gamut are close enough. */
const CLOSE = 1e-6;

/**
 * A color inside a gamut: as it is where it lies there, else with less chroma at the same lightness and place on the circle.
 * Lightness changes alone where the gamut has no grey of it.
 */
export function fitted(
  [L, C, place]: Placed,
  circle: Circle,
  gamut: Gamut,
): { lch: Oklch; gaveUp: number; lightened: number } {
  const light = Math.min(gamut.lightest, Math.max(gamut.darkest, L));
  const wanted = Math.max(0, C);
  const at = (c: number): Oklch => [light, c, circle.hueAt(place, light, c)];
  const holds = (lch: Oklch) => {
    const [, a, b] = oklchToOklab(lch);
    return gamut.holds(light, a, b);
  };
  const whole = at(wanted);
  const lightened = light - L;
  if (holds(whole)) return { lch: whole, gaveUp: 0, lightened };
  let [low, high] = [0, wanted];
  while (high - low > CLOSE) {
    const middle = (low + high) / 2;
    if (holds(at(middle))) low = middle;
    else high = middle;
  }
  return { lch: at(low), gaveUp: wanted - low, lightened };
}

const labOf = (lch: Oklch): Lab => oklabToLab(oklchToOklab(lch));
const plainLch = (color: Color, condition: Condition) =>
  convert(color, 'oklch', condition).components as Oklch;

/** Where bases stand. Inks of the press itself lie inside its gamut, and are not moved. */
export function placedBases(asked: Asked, condition: Condition): Placed[] {
  const circle = circleById(asked.circle);
  return asked.bases.map(({ color }) => {
    const lch = plainLch(color, condition);
    return [lch[0], lch[1], circle.placeOf(lch)];
  });
}

/** How much a quantity is off the base's at a part of the way, −1 to 1 times the amount. */
const offBy = ({ by, amount, bend }: Along, t: number) =>
  by === 'base' ? 0 : amount * (2 * (by === 'curve' ? t ** bend : t) - 1);

/** How companions are spread to both sides of the base: up, down, further down, further up. */
const fanned = ({ by, amount, bend }: Along, i: number, n: number) =>
  by === 'spread'
    ? ((i % 4 === 1 || i % 4 === 2 ? -1 : 1) * amount * Math.ceil((i + 1) / 2)) / Math.ceil(n / 2)
    : offBy({ by, amount, bend }, (i + 0.5) / n);

/** A member before anything is done to it. */
interface Rough {
  key: string;
  base: number;
  role: string;
  isBase: boolean;
  placed: Placed;
}

/**
 * A family of colors that belong together by a rule, every companion inside the gamut. Bases stay as they are, and say what they
 * would be inside.
 *
 * @param condition what bases that are inks look like
 */
export function familyOf(asked: Asked, gamut: Gamut, condition: Condition): Member[] {
  const rule = ruleOf(asked);
  const circle = circleById(asked.circle);
  const bases = placedBases(asked, condition);
  const bring = (placed: Placed) => fitted(placed, circle, gamut);
  const rough =
    'turns' in rule
      ? bases.flatMap((base, b) => turned(asked, rule, base, b, bring))
      : rule.id === 'between'
        ? stepped(asked, rule, bases, 0, circle, bring)
        : bases.flatMap((base, b) => stepped(asked, rule, [base], b, circle, bring));
  return [...rough, ...extras(asked, bases)].map(({ key, base, role, isBase, placed }) => {
    const held = asked.held?.[key];
    const by = asked.moved?.[key];
    const wanted: Placed =
      held ?? (by ? [placed[0] + by[0], Math.max(0, placed[1] + by[1]), around(placed[2] + by[2])] : placed);
    const { lch, gaveUp, lightened } = bring(wanted);
    const own = asked.bases[base]!.color;
    // an ink of the press lies on the press, whatever the screen makes of it
    const here = own.space === 'cmyk' && !own.profile && gamut.id === condition.setting.profile;
    const asIs = isBase && !held && !by;
    const outside = asIs && !here && (gaveUp > 0 || lightened !== 0);
    return {
      key,
      base,
      role,
      isBase,
      held: held !== undefined,
      place: wanted[2],
      lch: asIs ? plainLch(own, condition) : lch,
      color: asIs ? own : { space: 'oklch', components: [...lch] },
      gaveUp: asIs ? 0 : gaveUp,
      lightened: asIs ? 0 : lightened,
      ...(outside ? { inside: { space: 'oklch', components: [...lch] } } : {}),
    };
  });
}

type Fit = (placed: Placed) => { lch: Oklch };

const named = (bases: number, b: number, role: string) => (bases > 1 ? `${role}, base ${b + 1}` : role);

function turned(asked: Asked, rule: Rule & { turns: unknown }, base: Placed, b: number, bring: Fit): Rough[] {
  const turns = (rule as Extract<Rule, { turns: unknown }>).turns(countOf(asked));
  const angle = angleOf(asked);
  const [L, C, place] = base;
  const at = (turn: number, i: number): Placed => [
    L + fanned(asked.lightness, i, turns.length),
    C * (1 + fanned(asked.chroma, i, turns.length)),
    around(place + turn),
  ];
  const own: Rough = {
    key: `${b}`,
    base: b,
    role: asked.bases.length > 1 ? `base ${b + 1}` : 'base',
    isBase: true,
    placed: base,
  };
  const places =
    rule.id === 'analogous' && asked.even
      ? evenNeighbours(turns.length, angle, base, at, bring)
      : turns.map(({ turn, bend }) => turn + bend * angle);
  return [
    own,
    ...turns.map(({ role }, i) => ({
      key: `${b}.${i + 1}`,
      base: b,
      role: named(asked.bases.length, b, role),
      isBase: false,
      placed: at(places[i]!, i),
    })),
  ];
}

/** Neighbours that are all as far from each other as the first two are from the base on average. */
function evenNeighbours(
  n: number,
  angle: number,
  base: Placed,
  at: (turn: number, i: number) => Placed,
  bring: Fit,
): number[] {
  const reach = 170;
  const sides = [-1, 1].map(
    (side, s) => new Way((t) => labOf(bring(t === 0 ? base : at(side * t * reach, s)).lch)),
  );
  const mean = sides.reduce((sum, way) => sum + way.distance(0, angle / reach), 0) / sides.length;
  return Array.from({ length: n }, (_, i) => {
    const places = sides[i % 2]!.walk(mean, Math.ceil((i + 1) / 2));
    return (i % 2 ? 1 : -1) * (places[Math.ceil((i + 1) / 2)] ?? 1) * reach;
  });
}

function stepped(asked: Asked, rule: Rule, bases: Placed[], b: number, circle: Circle, bring: Fit): Rough[] {
  const { run } = rule as Extract<Rule, { run: unknown }>;
  const reach = asked.lightness.by === 'base' ? 0.2 : Math.abs(asked.lightness.amount);
  const { roles, base, at } = run(bases, countOf(asked), angleOf(asked), reach, circle);
  const n = roles.length;
  const colored = (t: number): Placed => {
    const [L, C, place] = at(t);
    // the base itself is as it is
    const pull = base === null ? 1 : Math.abs(t - base / (n - 1)) < 1e-9 ? 0 : 1;
    return [L, C * (1 + pull * offBy(asked.chroma, t)), place];
  };
  const bent = (t: number) => (asked.lightness.by === 'curve' ? t ** asked.lightness.bend : t);
  const plain = roles.map((_, i) => i / (n - 1 || 1));
  // a curve has no place where the base stands in the middle
  const ts = asked.even
    ? evenSteps(colored, n, base, bring)
    : base === null || base === 0
      ? plain.map(bent)
      : plain;
  return roles.map((role, i) => {
    // even steps pass by the bases in the middle
    const met = !asked.even || i === 0 || i === n - 1;
    const isBase = role === 'base' || (rule.id === 'between' && role.startsWith('base ') && met);
    const of = role.startsWith('base ') ? Number(role.slice(5)) - 1 : b;
    return {
      key: isBase && of < bases.length + b ? `${of}` : `${b}.${i}`,
      base: of,
      role: rule.id === 'between' ? role : named(asked.bases.length, b, role),
      isBase,
      placed: colored(ts[i]!),
    };
  });
}

function evenSteps(at: (t: number) => Placed, n: number, base: number | null, bring: Fit): number[] {
  const lab = (t: number) => labOf(bring(at(t)).lch);
  if (base === null || base === 0 || base === n - 1) return new Way(lab).even(n);
  // outwards from the base in steps of one size, as large as the shorter side allows
  const middle = base / (n - 1);
  const down = new Way((t) => lab(middle * (1 - t)));
  const up = new Way((t) => lab(middle + (1 - middle) * t));
  const step = Math.min(down.evenStep(base), up.evenStep(n - 1 - base));
  const below = down.walk(step, base);
  const above = up.walk(step, n - 1 - base);
  return Array.from({ length: n }, (_, i) =>
    i <= base ? middle * (1 - (below[base - i] ?? 1)) : middle + (1 - middle) * (above[i - base] ?? 1),
  );
}

function extras({ also = [] }: Asked, [base]: Placed[]): Rough[] {
  if (!base) return [];
  const [L, C, place] = base;
  const made: Record<Extra, Placed> = {
    lighter: [L + (0.94 - L) * 0.7, C * 0.42, place],
    darker: [L * 0.55, C * 0.6, place],
    neutral: [0.9, Math.min(C, 0.014), around(place + 180)],
  };
  return EXTRAS.filter((e) => also.includes(e)).map((role) => ({
    key: `0.${role}`,
    base: 0,
    role,
    isBase: false,
    placed: made[role],
  }));
}

/** What happens to hues when a member is dragged that is not a base. */
export type Drag = 'turn' | 'bend';

/**
 * What is asked for after a member was put somewhere else. A base goes there; of others hues turn the whole family or bend the
 * rule's angle, and lightness and chroma are their own.
 */
export function movedTo(
  asked: Asked,
  members: readonly Member[],
  key: string,
  to: Placed,
  drag: Drag,
  condition: Condition,
): Asked {
  const member = members.find((m) => m.key === key);
  if (!member) return asked;
  if (asked.held?.[key]) return { ...asked, held: { ...asked.held, [key]: to } };
  const circle = circleById(asked.circle);
  const colorAt = (placed: Placed): Color => ({
    space: 'oklch',
    components: [placed[0], placed[1], circle.hueAt(placed[2], placed[0], placed[1])],
  });
  const bases = placedBases(asked, condition);
  if (member.isBase)
    return {
      ...asked,
      // another color has not the name of the one it came from
      bases: asked.bases.map((b, i) => (i === member.base ? { color: colorAt(to) } : b)),
    };
  const was = asked.moved?.[key] ?? [0, 0, 0];
  const turn = turnOf(member.place, to[2]);
  // from what was wanted, and not from what the gamut left of it
  const by: Placed = [
    was[0] + to[0] - (member.lch[0] - member.lightened),
    was[1] + to[1] - (member.lch[1] + member.gaveUp),
    was[2],
  ];
  const own = (next: Asked, moved: Placed): Asked => ({ ...next, moved: { ...asked.moved, [key]: moved } });
  const rule = ruleOf(asked);
  const tied = 'turns' in rule ? rule.turns(countOf(asked))[Number(key.split('.')[1]) - 1] : undefined;
  if (rule.id === 'freely' || !tied) return own(asked, [by[0], by[1], around(was[2] + turn + 180) - 180]);
  if (drag === 'bend' && tied.bend !== 0 && rule.angle) {
    const from = bases[member.base]![2] + tied.turn + was[2];
    const angle = inRange(turnOf(around(from), to[2]) / tied.bend, rule.angle);
    return own({ ...asked, angle }, by);
  }
  return own(
    {
      ...asked,
      bases: asked.bases.map((b, i) => {
        const [L, C, place] = bases[i]!;
        return Math.abs(turn) < 1e-9 ? b : { color: colorAt([L, C, around(place + turn)]) };
      }),
    },
    by,
  );
}

/** The size of each member where they lie side by side, parts of 1: the base largest, and less by and by. */
export function usualAreas(count: number): number[] {
  if (count <= 1) return Array<number>(count).fill(1);
  const rest = Array.from({ length: count - 1 }, (_, i) => 1 / (i + 1.8));
  const sum = rest.reduce((a, b) => a + b, 0);
  return [0.46, ...rest.map((v) => (0.54 * v) / sum)];
}
