import { loaded } from '#server/answers';
import { listBooks } from '#server/books';
import { bandsOfBooks } from '#server/libraries';
import { database } from '#server/open';
import { Books } from '~/features/books/Books';
import { Header, Where } from '~/features/shared/frame/Header';
import { Frame } from '~/ui/Frame';
import type { Route } from './+types/books';

export const meta: Route.MetaFunction = () => [{ title: 'Books · Papillon' }];

export const loader = () =>
  loaded(async () => {
    const db = await database();
    const bands = await bandsOfBooks(db);
    const books = (await listBooks(db)).map((b) => ({ ...b, band: bands.get(b.id) ?? [] }));
    return { books, away: await listBooks(db, true) };
  });

export default function BooksRoute({ loaderData }: Route.ComponentProps) {
  return (
    <Frame>
      <Header>
        <Where>Books</Where>
      </Header>
      <Books {...loaderData} />
    </Frame>
  );
}
