import { MAX_PROFILE_BYTES } from '#core/color/index';
import { answered } from '#server/answers';
import { readBytes } from '#server/http/bodies';
import { database } from '#server/open';
import { keepProfile, listProfiles } from '#server/profiles';
import type { Route } from './+types/profiles-kept';

/** Every profile there is. */
export const loader = () => answered(async () => Response.json(await listProfiles(await database())));

/** Keeps the profile that is sent. */
export const action = ({ request }: Route.ActionArgs) =>
  answered(async () =>
    Response.json(await keepProfile(await database(), await readBytes(request, MAX_PROFILE_BYTES)), {
      status: 201,
    }),
  );
