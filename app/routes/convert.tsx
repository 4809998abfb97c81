import { Convert } from '~/features/convert/Convert';
import { Frame } from '~/features/frame/Frame';
import { Header, Where } from '~/features/frame/Header';
import { UsualCondition } from '~/features/frame/UsualCondition';
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
