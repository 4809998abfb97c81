/// <reference lib="webworker" />
import { FormatError } from '#core/text/error';
import { readArtwork, readPicture } from '~/api/assets';
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

/** The pictures that are kept with a library, with their copies. */
async function pictures(library: string) {
  const [{ keptPictures }, { jpegOrPng }] = await Promise.all([
    import('~/api/kept-pictures'),
    import('~/ui/jpeg-or-png'),
  ]);
  const listed = await keptPictures(library);
  return Promise.all(
    listed.map(async (picture) => {
      const came = await call(readPicture, { params: { id: library, picture: picture.id } });
      if (!came.ok) throw new FormatError(`a picture could not be fetched. ${came.why}`);
      return { ...picture, bytes: new Uint8Array(await (await jpegOrPng(came.value)).arrayBuffer()) };
    }),
  );
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
      return fileAnswers(makeTypesetting(), colors, { artwork, pictures });
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
