import type { ListedProfile } from '#server/profiles';

/** Keeps a profile with the others, once. @throws Error that says why it is not kept */
export async function keepProfile(profile: Blob | Uint8Array<ArrayBuffer>): Promise<ListedProfile> {
  const response = await fetch('/profiles/kept', {
    method: 'POST',
    headers: { 'Content-Type': 'application/vnd.iccprofile' },
    body: profile,
  }).catch(() => null);
  if (!response) throw new Error('the server does not answer. Try again in a moment.');
  if (!response.ok) throw new Error(await response.text());
  return response.json();
}
