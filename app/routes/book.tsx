import { loaded } from '#server/answers';
import { columnsOf, listBooks, usesOf } from '#server/books';
import { database } from '#server/open';
import { BookPage } from '~/features/books/BookPage';
import { Header, Where } from '~/features/shared/frame/Header';
import { Frame } from '~/ui/Frame';
import type { Route } from './+types/book';

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.book.name ?? 'Book'} · Papillon` },
];

/** This many colours make the band of a book, and this many of its names can be set on its page. */
const BAND = 240;
const MAX_NAMES = 500;

export const loader = ({ params }: Route.LoaderArgs) =>
  loaded(async () => {
    const db = await database();
    const book = (await listBooks(db)).find((b) => b.id === params.id);
    if (!book) throw new Response('This book does not exist. It may have been removed.', { status: 404 });
    const { swatches } = await columnsOf(db, params.id);
    const step = Math.max(1, Math.ceil(swatches.hex.length / BAND));
    const kinds = new Map<string, number>();
    for (const kind of swatches.kind) kinds.set(kind, (kinds.get(kind) ?? 0) + 1);
    return {
      book,
      band: swatches.hex.filter((_, i) => i % step === 0),
      kinds: [...kinds],
      specials: swatches.special.filter(Boolean).length,
      uses: await usesOf(db, params.id),
      names: book.facts.ownNames
        ? swatches.id.slice(0, MAX_NAMES).map((id, i) => ({
            id,
            name: swatches.name[i]!,
            code: swatches.code[i] ?? '',
            hex: swatches.hex[i]!,
          }))
        : [],
    };
  });

export default function BookRoute({ loaderData }: Route.ComponentProps) {
  return (
    <Frame>
      <Header>
        <Where>Books</Where>
      </Header>
      <BookPage key={loaderData.book.id} {...loaderData} />
    </Frame>
  );
}
