/*
 * Keeps the shell of the application, so that it opens where the connection is gone. Answers of the server are never
 * kept here: what a case says comes from the server, or not at all.
 */
const FILES = [] /* filled in when built */
const SHELF = 'fair-witness-' + '' /* filled in when built */

self.addEventListener('install', (event) => {
  event.waitUntil(
    caches
      .open(SHELF)
      .then((shelf) => shelf.addAll(FILES))
      .then(() => self.skipWaiting()),
  )
})

self.addEventListener('activate', (event) => {
  event.waitUntil(
    caches
      .keys()
      .then((names) => Promise.all(names.filter((name) => name !== SHELF).map((name) => caches.delete(name))))
      .then(() => self.clients.claim()),
  )
})

self.addEventListener('fetch', (event) => {
  const { request } = event
  const { origin, pathname } = new URL(request.url)
  if (request.method !== 'GET' || origin !== self.location.origin) return
  if (/^\/(api|ws|health|sheets|shared)\//.test(pathname)) return
  if (request.mode === 'navigate') {
    // The newest page counts; the kept one only where there is none.
    event.respondWith(fetch(request).catch(() => caches.match('/')))
  } else if (FILES.includes(pathname)) {
    event.respondWith(caches.match(pathname).then((kept) => kept ?? fetch(request)))
  }
})
