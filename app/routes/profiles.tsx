import { loaded } from '#server/answers';
import { database } from '#server/open';
import { listProfiles } from '#server/profiles';
import { Profiles } from '~/features/profiles/Profiles';
import { Header, Where } from '~/features/shared/frame/Header';
import { Frame } from '~/ui/Frame';
import type { Route } from './+types/profiles';

export const meta: Route.MetaFunction = () => [{ title: 'Print profiles · Papillon' }];

export const loader = () => loaded(async () => ({ profiles: await listProfiles(await database()) }));

export default function ProfilesRoute({ loaderData }: Route.ComponentProps) {
  return (
    <Frame>
      <Header>
        <Where>Print profiles</Where>
      </Header>
      <Profiles profiles={loaderData.profiles} />
    </Frame>
  );
}
