import { Formats } from '~/features/formats/Formats';
import { Header, Where } from '~/features/shared/frame/Header';
import { Frame } from '~/ui/Frame';
import type { Route } from './+types/formats';

export const meta: Route.MetaFunction = () => [{ title: 'Formats · Papillon' }];

export default function FormatsRoute() {
  return (
    <Frame>
      <Header>
        <Where>Formats</Where>
      </Header>
      <Formats />
    </Frame>
  );
}
