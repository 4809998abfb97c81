import { metricById } from '#core/color/index';
import { assign, type Entry, type Found, Matcher, type Source } from '#core/match/index';
import { recipesFor } from '#core/reading/recipe';
import type { Columns } from '#server/books';
import { send } from '~/api/call';
import { readColumns } from '~/api/libraries';
import type { Colors } from '~/colors/colors';
import type { FoundColor, MatchQueries, Where } from '~/messages/match-messages';
import type { Answers, JobContext } from './worker-client';

/** A job that takes longer lets others in, and says how far it is, so often, ms. */
const BREATH_MS = 40;
/** One to one, at most this many are paired: where all are alike the time it takes grows with their cube. */
const MAX_ONE_TO_ONE = 2000;

/** What the match worker does. It fetches what it looks in by itself, so that the page is not held up by it. */
export function matchAnswers(
  colors: Pick<Colors, 'condition'>,
  get: typeof fetch = (...args) => fetch(...args),
): Answers<MatchQueries> {
  const sources = new Map<string, { tag: string | null; source: Source }>();
  let made: { key: string; matcher: Matcher } | null = null;

  async function sourceOf(id: string): Promise<Source> {
    const response = await send(readColumns, { params: { id }, cache: 'no-cache' }, get);
    if (!response.ok) throw new Error(`a book or library is not available: ${await response.text()}`);
    const tag = response.headers.get('ETag');
    const known = sources.get(id);
    if (known && tag !== null && known.tag === tag) return known.source;
    const source = asSource((await response.json()) as Columns);
    sources.set(id, { tag, source });
    return source;
  }

  async function matcherFor({ sources: ids, metric, limits, setting }: Where): Promise<Matcher> {
    const found = await Promise.all(ids.map(sourceOf));
    const tags = ids.map((id) => sources.get(id)!.tag);
    const key = JSON.stringify([ids, tags, metric, limits, setting]);
    if (made?.key === key && !tags.includes(null)) return made.matcher;
    const bound = limits.printable || limits.spaces !== null;
    const condition = bound ? await colors.condition(setting) : undefined;
    made = { key, matcher: new Matcher(found, metricById(metric), limits, condition) };
    return made.matcher;
  }

  async function nearest(
    { wanted, n, ...where }: MatchQueries['nearest']['ask'],
    { stage, breathe }: JobContext,
  ): Promise<FoundColor[][]> {
    const matcher = await matcherFor(where);
    const found: FoundColor[][] = [];
    let last = performance.now();
    for (const { lab, not } of wanted) {
      if (performance.now() - last > BREATH_MS) {
        stage(`Looking for the nearest, ${Math.round((found.length / wanted.length) * 100)} %`);
        await breathe();
        last = performance.now();
      }
      const without =
        not && ((f: Pick<Found, 'source' | 'entry'>) => f.source.id === not[0] && f.entry.id === not[1]);
      found.push(matcher.nearest(lab, n, without).map(asFound));
    }
    return found;
  }

  return {
    nearest,

    recipes: async ({ target, bases }) => recipesFor(target, bases),

    async translate(ask, context) {
      if (ask.wanted.length > MAX_ONE_TO_ONE)
        throw new Error(
          `up to ${MAX_ONE_TO_ONE.toLocaleString('en')} swatches are paired one to one; these are ${ask.wanted.length.toLocaleString('en')}. Take a part of them.`,
        );
      const near = await nearest(ask, context);
      const metric = metricById(ask.metric);
      // what may be taken at all does not hang on the tolerance, which says what is shown as outside
      const matcher = await matcherFor({ ...ask, limits: { ...ask.limits, within: null } });
      let last = performance.now();
      const pairs = await assign(
        ask.wanted.map((w) => w.lab),
        matcher.labs,
        metric,
        async (done, of) => {
          if (performance.now() - last < BREATH_MS) return;
          context.stage(`Pairing one to one, ${done} of ${of}`);
          await context.breathe();
          last = performance.now();
        },
      );
      const chosen = pairs.map((pair) =>
        pair ? asFound({ ...matcher.at(pair.place), difference: pair.difference }) : null,
      );
      return { nearest: near, chosen };
    },
  };
}

function asSource({ id, name, book, facts, swatches }: Columns): Source {
  const { l, a, b } = swatches;
  return {
    id,
    name,
    book,
    ...(facts.substrate ? { substrate: facts.substrate } : {}),
    entries: swatches.id.map((entry, i): Entry => {
      const [code, special] = [swatches.code[i], swatches.special[i]];
      return {
        id: entry,
        name: swatches.name[i]!,
        ...(code ? { code } : {}),
        kind: swatches.kind[i]!,
        lab: [l[i]!, a[i]!, b[i]!],
        hex: swatches.hex[i]!,
        ...(special ? { special } : {}),
      };
    }),
  };
}

const asFound = ({ source, entry, difference }: Found): FoundColor => ({
  ...entry,
  source: source.id,
  sourceName: source.name,
  book: source.book,
  substrate: source.substrate ?? '',
  difference,
});
