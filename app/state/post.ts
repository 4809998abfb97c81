/** Sends JSON; null when the server does not answer. */
export const postJson = (path: string, body: unknown): Promise<Response | null> =>
  fetch(path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  }).catch(() => null);
