/** Where the service worker puts what other programs share with Papillon. */
const SHARED = 'papillon-shared';
/** What was not looked at for so long is let go, ms. */
const DAY_MS = 86_400_000;

/** What has been shared since the page was last here, and is taken with this: files, or a text. */
export async function takeShared(): Promise<{ files: File[]; text: string }> {
  if (typeof caches === 'undefined' || !(await caches.has(SHARED))) return { files: [], text: '' };
  const shared = await caches.open(SHARED);
  const files: File[] = [];
  let text = '';
  for (const request of await shared.keys()) {
    const response = await shared.match(request);
    if (!response || !(Date.now() - Number(response.headers.get('X-At') ?? 0) < DAY_MS)) continue;
    const name = response.headers.get('X-Name');
    if (name === null) text = await response.text();
    else files.push(new File([await response.blob()], decodeURIComponent(name)));
  }
  await caches.delete(SHARED);
  return { files, text };
}

interface LaunchParams {
  files: { getFile(): Promise<File> }[];
}
declare global {
  interface Window {
    /** Of browsers that open files with installed applications (W3C, Web App Launch Handler). */
    launchQueue?: { setConsumer(consumer: (params: LaunchParams) => void): void };
  }
}

/** Hears of files that the system opens with Papillon. */
export function onLaunch(take: (files: File[]) => void): void {
  window.launchQueue?.setConsumer(({ files }) => {
    if (files.length > 0) void Promise.all(files.map((f) => f.getFile())).then(take);
  });
}
