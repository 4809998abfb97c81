/** Sends JSON; null when the server does not answer. */
export const postJson = (path: string, body: unknown): Promise<Response | null> =>
  fetch(path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  }).catch(() => null);

const MAX_SHOWN = 500;

/** Why something was not done, in whole sentences that can be shown. */
export async function whyNot(response: Response | null): Promise<string> {
  if (!response) return 'The server does not answer.';
  // whatever stands between here and there answers in pages of its own
  const plain = /^text\/plain/.test(response.headers.get('Content-Type') ?? 'text/plain');
  const text = plain ? (await response.text().catch(() => '')).trim() : '';
  return text ? text.slice(0, MAX_SHOWN) : `The server returned error ${response.status}.`;
}
