import { useState } from 'react';
import type { Link, LinkData } from '#server/links';
import { call } from '~/api/call';
import { changeLink, listLinks, makeLink, renewLink, revokeLink } from '~/api/links';
import { useToast } from '~/ui/toast';
import { useAsked } from '~/ui/use-asked';
import { forgetToken, keepToken } from './addresses';

export interface Links {
  /** Null until they are known. */
  list: Link[] | null;
  problem: string | null;
  make(data: LinkData): Promise<Link | null>;
  change(link: Link, data: LinkData): Promise<void>;
  renew(link: Link): Promise<void>;
  revoke(link: Link): Promise<void>;
}

/** The links of a library, and what is done to them; what the server refuses stands in a notice, and nothing changes. */
export function useLinks(library: string): Links {
  const [own, setOwn] = useState<Link[] | null>(null);
  const toast = useToast();
  const asked = useAsked(
    async (signal) => {
      const came = await call(listLinks, { params: { id: library }, signal });
      if (!came.ok) throw new Error(`The links are not available. ${came.why}`);
      return came.value;
    },
    [library],
  );
  const list = own ?? asked.value;
  const failed = (what: string, why: string) => toast({ text: `${what} ${why}`, stays: true });
  const put = (next: (was: Link[]) => Link[]) => setOwn((was) => next(was ?? asked.value ?? []));
  return {
    list,
    problem: asked.problem,
    async make(data) {
      const came = await call(makeLink, { params: { id: library }, body: data });
      if (!came.ok) {
        failed('The link was not made.', came.why);
        return null;
      }
      const { link, token } = came.value;
      keepToken(link.id, token);
      put((was) => [...was, link]);
      return link;
    },
    async change(link, data) {
      // shown at once, and taken back where the server refuses
      put((was) => was.map((l) => (l.id === link.id ? { ...l, data } : l)));
      const came = await call(changeLink, { params: { id: library, link: link.id }, body: data });
      put((was) => was.map((l) => (l.id === link.id ? (came.ok ? came.value : link) : l)));
      if (!came.ok) failed('The link was not changed.', came.why);
    },
    async renew(link) {
      const came = await call(renewLink, { params: { id: library, link: link.id }, body: {} });
      if (!came.ok) return failed('The address was not renewed.', came.why);
      keepToken(link.id, came.value);
      put((was) => [...was]);
      toast({ text: `“${link.data.name || 'The link'}” has a new address; the old one has ended.` });
    },
    async revoke(link) {
      const came = await call(revokeLink, { params: { id: library, link: link.id } });
      if (!came.ok) return failed('The link was not revoked.', came.why);
      forgetToken(link.id);
      put((was) => was.filter((l) => l.id !== link.id));
      toast({ text: `“${link.data.name || 'The link'}” was revoked: its address opens nothing any more.` });
    },
  };
}
