import { Convert } from '~/features/convert/Convert';
import { Header, Where } from '~/features/shared/frame/Header';
import { UsualCondition } from '~/features/shared/frame/UsualCondition';
import { Frame } from '~/ui/Frame';
import type { Route } from './+types/convert';

export const meta: Route.MetaFunction = () => [{ title: 'Convert files · Papillon' }];

export default function ConvertRoute() {
  return (
    <Frame>
      <Header>
        <Where>Convert</Where>
      </Header>
      <UsualCondition>
        <Convert />
      </UsualCondition>
    </Frame>
  );
}
