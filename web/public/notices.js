// Shows the system's notices for the watch: some browsers on phones take them only from a worker. It keeps nothing and fetches nothing.
self.addEventListener('install', () => self.skipWaiting());
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()));

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
