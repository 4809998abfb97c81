import { cardCookie, guestOf, PRIVATE } from '#server/http/link';
import { joinLink, renameVisitor } from '#server/people';
import { authorMark } from '#server/shared';
import { answers, on } from '~/api/handle';
import * as api from '~/api/shared';

export const action = answers(
  on(api.nameVisitor, async ({ db, link, request, body: { name } }) => {
    const known = await guestOf(request, link);
    if (known) await renameVisitor(db, { id: known.id, name });
    const { person, card } = known
      ? { person: { ...known, name }, card: null }
      : await joinLink(db, link, name);
    return Response.json(
      { name: person.name, by: authorMark(person.id) },
      {
        headers: {
          ...PRIVATE,
          'Content-Type': 'application/json',
          ...(card ? { 'Set-Cookie': cardCookie(link.id, card, isSecure(request)) } : {}),
        },
      },
    );
  }),
);

const isSecure = ({ url }: Request) => new URL(url).protocol === 'https:';
