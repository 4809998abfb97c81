import { redirect } from 'react-router';
import { loaded } from '#server/answers';
import { readJson } from '#server/http/bodies';
import { createLibrary, duplicateLibrary, listHome } from '#server/libraries';
import { database } from '#server/open';
import {
  archive,
  deleteLibraries,
  removeForGood,
  renameShelf,
  restoreLibraries,
  shelve,
} from '#server/shelves';
import { Home } from '~/features/libraries/Home';
import type { Route } from './+types/home';
import { checkIntent } from './checks';

export const loader = ({ request }: Route.LoaderArgs) =>
  loaded(async () => {
    const query = new URL(request.url).searchParams.get('q') ?? '';
    const db = await database();
    return { query, ...(await listHome(db, query)) };
  });

export const action = ({ request }: Route.ActionArgs) => loaded(() => act(request));

async function act(request: Request) {
  const wanted = checkIntent(await readJson(request));
  const db = await database();
  switch (wanted.intent) {
    case 'new': {
      const empty = { id: 'new', name: wanted.name, groups: [{ id: 'none', name: '', swatches: [] }] };
      return redirect(`/libraries/${await createLibrary(db, empty, wanted.id)}/arrange`);
    }
    case 'duplicate':
      await duplicateLibrary(db, wanted.id, wanted.copy);
      break;
    case 'delete':
      await deleteLibraries(db, wanted.ids);
      break;
    case 'restore':
      await restoreLibraries(db, wanted.ids);
      break;
    case 'remove':
      await removeForGood(db, wanted.ids);
      break;
    case 'archive':
      await archive(db, wanted.ids, wanted.on);
      break;
    case 'shelve':
      await shelve(db, wanted.ids, wanted.on, wanted.off);
      break;
    case 'rename shelf':
      await renameShelf(db, wanted.shelf, wanted.name ?? null);
  }
  return null;
}

export default function HomeRoute({ loaderData }: Route.ComponentProps) {
  return <Home {...loaderData} />;
}
