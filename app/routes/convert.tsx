import { Convert } from '~/features/convert/Convert';
import { Header } from '~/features/frame/Header';
import type { Route } from './+types/convert';

export const meta: Route.MetaFunction = () => [{ title: 'Convert files · Papillon' }];

export default function ConvertRoute() {
  return (
    <div className="frame" style={{ gridTemplate: '52px minmax(0, 1fr) auto / minmax(0, 1fr)' }}>
      <Header>
        <span className="second">/</span>
        <span style={{ fontSize: 15, fontWeight: 500 }}>Convert</span>
      </Header>
      <Convert />
    </div>
  );
}
