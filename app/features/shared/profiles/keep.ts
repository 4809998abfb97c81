import type { ListedProfile } from '#server/profiles';
import * as api from '~/api/assets';
import { call, valueFrom } from '~/api/call';

/** Keeps a profile with the others, once. @throws Error that says why it is not kept */
export const keepProfile = (profile: Blob | Uint8Array<ArrayBuffer>): Promise<ListedProfile> =>
  valueFrom(call(api.keepProfile, { body: profile }));
