/** Whether the system may tell of alarms; `none` where it cannot. */
const permission = (): NotificationPermission | 'none' =>
  typeof Notification === 'undefined' ? 'none' : Notification.permission;

/** Ask once whether the system may tell of alarms. Call it from a press of a button. */
export function askForNotices(): void {
  if (permission() === 'default') void Notification.requestPermission();
}

/** The worker that shows notices; null where there is none (an address that is neither https nor this machine). */
async function worker(): Promise<ServiceWorkerRegistration | null> {
  if (!('serviceWorker' in navigator)) return null;
  try {
    await navigator.serviceWorker.register('/worker.js');
    return await navigator.serviceWorker.ready;
  } catch {
    return null;
  }
}

/**
 * Have the system tell of something, when the owner allowed it.
 * @param tag a notice of the same tag takes the place of the one before
 */
export async function notice(title: string, text: string, tag: string): Promise<void> {
  if (permission() !== 'granted') return;
  const registration = await worker();
  if (registration) return registration.showNotification(title, { body: text, tag, data: { url: location.href } });
  try {
    new Notification(title, { body: text, tag });
  } catch {
    // A browser that takes notices from a worker alone, and has none here: the page itself still rings.
  }
}
