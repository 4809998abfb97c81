/// <reference lib="webworker" />
import { FormatError } from '#core/text/error';
import { readArtwork } from '~/api/assets';
import { call } from '~/api/call';
import { Colors } from '~/colors/colors';
import type { WorkerName } from './clients';
import { type Answers, type Queries, serve } from './worker-client';

// What every worker runs: its name says what it answers, and it loads that alone.

const colors = new Colors();

async function artwork(hash: string): Promise<Uint8Array | null> {
  const came = await call(readArtwork, { params: { hash } });
  if (came.ok) return new Uint8Array(await came.value.arrayBuffer());
  if (came.status === 404) return null;
  throw new FormatError('the artwork could not be fetched. Check the connection.');
}

/** How each is loaded, and how a message begins that says why something failed. */
const KINDS = {
  artwork: {
    fails: 'This cannot be done',
    load: async () => {
      const [{ artworkAnswers }, { makeTypesetting }, { flatPixels, pngOf }] = await Promise.all([
        import('./artwork-answers'),
        import('./typesetting'),
        import('./picture-canvas'),
      ]);
      return artworkAnswers({
        colors,
        loadFont: makeTypesetting().loadFont,
        decode: (file) => flatPixels(colors, file),
        encode: pngOf,
      });
    },
  },
  check: {
    fails: 'This cannot be checked',
    load: async () => (await import('./check-answers')).checkAnswers(colors),
  },
  files: {
    fails: 'This cannot be done',
    load: async () => {
      const [{ fileAnswers }, { makeTypesetting }] = await Promise.all([
        import('./files-answers'),
        import('./typesetting'),
      ]);
      return fileAnswers(makeTypesetting(), colors, artwork);
    },
  },
  match: {
    fails: 'This cannot be matched',
    load: async () => (await import('./match-answers')).matchAnswers(colors),
  },
  picture: {
    fails: 'The picture cannot be worked on',
    load: async () => {
      const [{ pictureAnswers }, { pictureCanvas }] = await Promise.all([
        import('./picture-answers'),
        import('./picture-canvas'),
      ]);
      return pictureAnswers(pictureCanvas(colors));
    },
  },
} satisfies Record<WorkerName, { fails: string; load(): Promise<unknown> }>;

const { fails, load } = KINDS[self.name as WorkerName];
// each kind of client knows its own queries
serve(load() as Promise<Answers<Queries>>, (error) =>
  error instanceof FormatError
    ? error.message
    : `${fails}: ${error instanceof Error ? error.message : error}`,
);
