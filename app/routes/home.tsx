import { redirect } from 'react-router';
import { checker } from '#core/swatch/index';
import { database } from '#server/db';
import {
  createLibrary,
  deleteLibrary,
  duplicateLibrary,
  listDeleted,
  listLibraries,
  restoreLibrary,
} from '#server/libraries';
import { Home } from '~/features/libraries/Home';
import type { HomeIntent } from '~/features/libraries/intents';
import type { Route } from './+types/home';

export async function loader({ request }: Route.LoaderArgs) {
  const query = new URL(request.url).searchParams.get('q') ?? '';
  const db = await database();
  return { query, libraries: await listLibraries(db, query), deleted: await listDeleted(db) };
}

const idSchema = { type: 'string', minLength: 1, maxLength: 40, pattern: '^[\\w-]+$' };
const withIds = (intent: string, ...fields: string[]) => ({
  type: 'object',
  required: ['intent', ...fields],
  properties: { intent: { const: intent }, ...Object.fromEntries(fields.map((f) => [f, idSchema])) },
  additionalProperties: false,
});

const checkIntent = checker<HomeIntent>({
  oneOf: [
    withIds('new', 'id'),
    withIds('duplicate', 'id', 'copy'),
    withIds('delete', 'id'),
    withIds('restore', 'id'),
  ],
});

export async function action({ request }: Route.ActionArgs) {
  const db = await database();
  const wanted = checkIntent(await request.json());
  switch (wanted.intent) {
    case 'new': {
      const empty = { id: 'new', name: 'New library', groups: [{ id: 'none', name: '', swatches: [] }] };
      return redirect(`/libraries/${await createLibrary(db, empty, wanted.id)}/arrange`);
    }
    case 'duplicate':
      await duplicateLibrary(db, wanted.id, wanted.copy);
      break;
    case 'delete':
      await deleteLibrary(db, wanted.id);
      break;
    case 'restore':
      await restoreLibrary(db, wanted.id);
  }
  return null;
}

export default function HomeRoute({ loaderData }: Route.ComponentProps) {
  return <Home {...loaderData} />;
}
