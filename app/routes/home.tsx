import { redirect } from 'react-router';
import { checker } from '#core/swatch/index';
import { database } from '#server/db';
import {
  changeLibrary,
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

const withId = (intent: string) => ({
  type: 'object',
  required: ['intent', 'id'],
  properties: { intent: { const: intent }, id: { type: 'string' } },
  additionalProperties: false,
});

const checkIntent = checker<HomeIntent>({
  oneOf: [
    {
      type: 'object',
      required: ['intent'],
      properties: { intent: { const: 'new' } },
      additionalProperties: false,
    },
    withId('duplicate'),
    withId('delete'),
    withId('restore'),
    {
      type: 'object',
      required: ['intent', 'id', 'name'],
      properties: {
        intent: { const: 'rename' },
        id: { type: 'string' },
        name: { type: 'string', maxLength: 10_000 },
      },
      additionalProperties: false,
    },
  ],
});

export async function action({ request }: Route.ActionArgs) {
  const db = await database();
  const wanted = checkIntent(await request.json());
  switch (wanted.intent) {
    case 'new': {
      const id = await createLibrary(db, {
        id: 'new',
        name: 'New library',
        groups: [{ id: 'none', name: '', swatches: [] }],
      });
      return redirect(`/libraries/${id}/arrange`);
    }
    case 'duplicate':
      await duplicateLibrary(db, wanted.id);
      break;
    case 'delete':
      await deleteLibrary(db, wanted.id);
      break;
    case 'restore':
      await restoreLibrary(db, wanted.id);
      break;
    case 'rename':
      // whatever the revision, a name is a name
      await changeLibrary(db, wanted.id, { edit: { type: 'renameLibrary', name: wanted.name } }, -1);
  }
  return null;
}

export default function HomeRoute({ loaderData }: Route.ComponentProps) {
  return <Home {...loaderData} />;
}
