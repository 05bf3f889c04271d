// Keeps the page for when there is no connection, and shows the system's notices for the watch. Of the owner's data it keeps what a rig is
// (rigs, units, monitors), never what a tire reads: a kept figure would look live.
const SHELL = 'druckwerk-shell';
const DATA = 'druckwerk-data';
const DOCUMENTS = ['/api/rigs', '/api/units', '/api/monitors'];

/** Keep the page and all its parts; parts of an older build go. */
async function keepShell() {
  const answer = await fetch('/shell.json', { cache: 'no-store' });
  if (!answer.ok) return;
  const { build, files } = await answer.json();
  const cache = await caches.open(SHELL);
  const before = await cache.match('/shell.json');
  if (before && (await before.json()).build === build && (await cache.match('/'))) return;
  const there = new Set((await cache.keys()).map((r) => new URL(r.url).pathname));
  await cache.addAll(files.filter((f) => !there.has(f)));
  await cache.put('/', await fetch('/', { cache: 'no-store' }));
  await cache.put('/shell.json', new Response(JSON.stringify({ build }), { headers: { 'Content-Type': 'application/json' } }));
  const wanted = new Set([...files, '/', '/shell.json']);
  for (const r of await cache.keys()) if (!wanted.has(new URL(r.url).pathname)) await cache.delete(r);
}

/** Documents that no page has asked for yet are kept too: which sheet is opened without a connection, nobody knows before. */
async function keepDocuments() {
  const cache = await caches.open(DATA);
  for (const path of DOCUMENTS) {
    if (await cache.match(path)) continue;
    const answer = await fetch(path, { cache: 'no-store' });
    if (answer.ok) await cache.put(path, answer);
  }
}

self.addEventListener('install', (event) => {
  self.skipWaiting();
  event.waitUntil(Promise.all([keepShell(), keepDocuments()]).catch(() => undefined));
});
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()));

const gone = () => new Response('', { status: 503, statusText: 'No connection' });

async function page(request) {
  try {
    return await fetch(request);
  } catch {
    return (await (await caches.open(SHELL)).match('/')) ?? gone();
  }
}

async function part(request) {
  const kept = await (await caches.open(SHELL)).match(new URL(request.url).pathname);
  return kept ?? fetch(request);
}

async function document(request) {
  const cache = await caches.open(DATA);
  try {
    const answer = await fetch(request);
    if (answer.ok) await cache.put(request, answer.clone());
    else if (answer.status === 401) await caches.delete(DATA);
    return answer;
  } catch (error) {
    const kept = await cache.match(request);
    if (kept) return kept;
    throw error;
  }
}

self.addEventListener('fetch', (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== 'GET' || url.origin !== self.location.origin) return;
  if (request.mode === 'navigate' && !url.pathname.startsWith('/api/')) {
    event.respondWith(page(request));
    event.waitUntil(Promise.all([keepShell(), keepDocuments()]).catch(() => undefined));
  } else if (url.pathname.startsWith('/assets/')) event.respondWith(part(request));
  else if (DOCUMENTS.includes(url.pathname)) event.respondWith(document(request));
});

// A press brings the page of that rig to the front, or opens it.
self.addEventListener('notificationclick', (event) => {
  event.notification.close();
  const { url } = event.notification.data;
  event.waitUntil(
    self.clients.matchAll({ type: 'window' }).then((pages) => {
      const page = pages.find((p) => p.url === url) ?? pages[0];
      return page ? page.focus() : self.clients.openWindow(url);
    }),
  );
});
