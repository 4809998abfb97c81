import { Pdf } from '~/features/pdf/Pdf';
import { Header, Where } from '~/features/shared/frame/Header';
import { UsualCondition } from '~/features/shared/frame/UsualCondition';
import { Frame } from '~/ui/Frame';
import type { Route } from './+types/pdf';

export const meta: Route.MetaFunction = () => [{ title: 'Inks of a PDF · Papillon' }];

export default function PdfRoute() {
  return (
    <Frame panels={{ outline: 'Inks', readout: 'Ink' }}>
      <Header>
        <Where>PDF</Where>
      </Header>
      <UsualCondition>
        <Pdf />
      </UsualCondition>
    </Frame>
  );
}
