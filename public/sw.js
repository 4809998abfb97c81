// Keeps the shell of the pages, so that an installed Papillon opens and says what is wrong when its server is away; and takes
// what other programs share with it.
const SHELL = 'papillon-shell';
const SHARED = 'papillon-shared';
const AWAY = '/away';

self.addEventListener('install', (event) => {
  event.waitUntil(keepShell().then(() => self.skipWaiting()));
});
self.addEventListener('activate', (event) => {
  event.waitUntil(
    // pages are asked for by the browser itself: a request made again in here would look like another to the server
    Promise.all([self.registration.navigationPreload?.enable(), learnAddress(), dropOld(), self.clients.claim()]),
  );
});

/** The page that is shown while the server is away, with all it is made of. */
async function keepShell() {
  const page = await fetch(AWAY, { headers: { Accept: 'text/html' } });
  // where a password is asked for there is no page before it is given
  if (!page.ok) return;
  const html = await page.clone().text();
  const files = new Set(html.match(/\/assets\/[\w.-]+\.(?:js|css)/g));
  const shell = await caches.open(SHELL);
  await Promise.all([...files].map((file) => keepFile(shell, file)));
  await shell.put(AWAY, page);
  // what the page before was made of is of no use any more
  for (const { url } of await shell.keys()) {
    const { pathname } = new URL(url);
    if (pathname.startsWith('/assets/') && !files.has(pathname) && /\.(?:js|css)$/.test(pathname))
      await shell.delete(pathname);
  }
}

/** A file of the build has its content in its name: it is fetched once. */
async function keepFile(shell, file) {
  const kept = await shell.match(file);
  if (kept) return kept;
  const fetched = await fetch(file);
  if (fetched.ok) await shell.put(file, fetched.clone());
  return fetched;
}

self.addEventListener('fetch', (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (url.origin !== self.location.origin) return;
  if (request.method === 'POST' && url.pathname.startsWith('/share'))
    event.respondWith(takeShared(request, url.pathname));
  else if (request.method !== 'GET') return;
  else if (request.mode === 'navigate') event.respondWith(openPage(event, request, url));
  else if (url.pathname.startsWith('/assets/')) event.respondWith(openFile(request));
});

async function openPage(event, request, url) {
  try {
    const page = (await event.preloadResponse) ?? (await fetch(request));
    // the shell is of the same build as the pages
    if (page.ok && url.pathname !== AWAY)
      event.waitUntil(Promise.all([refresh(), learnAddress(), dropOld()]).catch(() => undefined));
    return page;
  } catch (error) {
    const shell = await caches.match(AWAY);
    // without one the browser says it in its own way
    if (!shell) throw error;
    if (url.pathname === AWAY) return shell;
    return Response.redirect(`${AWAY}?to=${encodeURIComponent(url.pathname + url.search)}`);
  }
}

let refreshed = false;
async function refresh() {
  if (refreshed) return;
  refreshed = true;
  await keepShell().catch(() => {
    refreshed = false;
  });
}

async function openFile(request) {
  try {
    return await fetch(request);
  } catch (error) {
    const kept = await caches.match(request);
    if (kept) return kept;
    throw error;
  }
}

const ADDRESSES = 'papillon-addresses';
const DAY_MS = 86_400_000;

/** Remembers the address that the system shares to, which the manifest tells this browser alone. */
async function learnAddress() {
  const manifest = await fetch('/manifest.webmanifest', { credentials: 'same-origin' }).catch(() => null);
  if (!manifest?.ok) return;
  const action = (await manifest.json().catch(() => null))?.share_target?.action;
  if (action) await (await caches.open(ADDRESSES)).put(action, new Response('known'));
}

/** What was shared and not looked at within a day goes. */
async function dropOld() {
  if (!(await caches.has(SHARED))) return;
  const shared = await caches.open(SHARED);
  for (const request of await shared.keys()) {
    const at = Number((await shared.match(request))?.headers.get('X-At'));
    if (!(Date.now() - at < DAY_MS)) await shared.delete(request);
  }
}

/** Puts what was shared aside for the page, which opens it like anything dropped. Only the system knows where to share to. */
async function takeShared(request, path) {
  try {
    const addresses = await caches.open(ADDRESSES);
    if (!(await addresses.match(path))) await learnAddress();
    if (!(await addresses.match(path))) return Response.redirect('/?shared=stranger', 303);
    await putAside(await request.formData());
    return Response.redirect('/?shared', 303);
  } catch {
    // a full disk, or a browser that keeps nothing
    return Response.redirect('/?shared=lost', 303);
  }
}

async function putAside(form) {
  const shared = await caches.open(SHARED);
  const files = form.getAll('files').filter((f) => f instanceof File && f.size > 0);
  for (const [i, file] of files.entries())
    await shared.put(
      `/shared/${i}`,
      new Response(file, {
        headers: { 'X-Name': encodeURIComponent(file.name), 'X-At': String(Date.now()) },
      }),
    );
  const text = ['text', 'url', 'title']
    .map((name) => form.get(name))
    .find((t) => typeof t === 'string' && t.trim());
  if (files.length === 0 && text)
    await shared.put('/shared/text', new Response(text, { headers: { 'X-At': String(Date.now()) } }));
}
