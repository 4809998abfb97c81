import { useContext } from 'react';
import { isRouteErrorResponse } from 'react-router';
import { loaded } from '#server/answers';
import { guestOf, linkOf, NO_LINK, PRIVATE } from '#server/http/link';
import { database } from '#server/open';
import { authorMark, beginningOf, sharedView } from '#server/shared';
import island from '~/features/shared-page/island?worker&url';
import { Ended, SharedPage } from '~/features/shared-page/SharedPage';
import { readSurround } from '~/theme/cookie';
import { NonceContext } from '~/ui/nonce';
import type { Route } from './+types/shared';

/** It brings its own script: the application’s is not loaded. */
export const handle = { ownScript: true };

const nothing = async () => undefined;
/** Before its script runs, the page does nothing. */
const still = { mayDelete: false, rename: nothing, write: nothing, mark: nothing, remove: nothing };

export const meta: Route.MetaFunction = ({ data }) => [
  { title: data ? `${(data as { view: { title: string } }).view.title} · Papillon` : 'Papillon' },
  { name: 'robots', content: 'noindex, nofollow' },
  { name: 'referrer', content: 'no-referrer' },
];

export const loader = ({ request, params: { token } }: Route.LoaderArgs) =>
  loaded(async () => {
    const base = `/s/${token}`;
    const link = await linkOf(token);
    const view = await sharedView(await database(), link, base);
    if (!view) throw new Response(NO_LINK, { status: 404, headers: PRIVATE });
    const guest = await guestOf(request, link);
    const me = guest && { name: guest.name, by: authorMark(guest.id) };
    return { view: beginningOf(view), base, me, surround: readSurround(request) };
  });

export default function SharedRoute({ loaderData }: Route.ComponentProps) {
  const nonce = useContext(NonceContext);
  const text = JSON.stringify(loaderData).replaceAll('<', '\\u003c');
  return (
    <>
      <div id="shared">
        <SharedPage
          {...loaderData}
          onSurround={() => undefined}
          onPick={nothing}
          standing={{ ended: false, away: false }}
          commenting={loaderData.view.threads ? () => ({ ...still, me: loaderData.me }) : null}
        />
      </div>
      {/* biome-ignore lint/security/noDangerouslySetInnerHtml: data that nothing runs, without a “<” */}
      <script id="shared-data" type="application/json" dangerouslySetInnerHTML={{ __html: text }} />
      <script type="module" src={island} nonce={nonce} />
    </>
  );
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  if (isRouteErrorResponse(error) && error.status === 404) return <Ended />;
  throw error;
}
