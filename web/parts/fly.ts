/**
 * Shows where something went: a copy of what was seen flies from one place of the page into another. Nothing moves where the system asks for
 * reduced motion, or where the other place is not on the page.
 */
export function flyTo(from: HTMLElement, selector: string): void {
  if (window.matchMedia('(prefers-reduced-motion: reduce)').matches) return;
  const to = document.querySelector<HTMLElement>(selector);
  if (!to) return;
  const start = from.getBoundingClientRect();
  const end = to.getBoundingClientRect();
  const copy = from.cloneNode(true) as HTMLElement;
  for (const name of ['id', 'role', 'aria-label', 'aria-live']) copy.removeAttribute(name);
  copy.setAttribute('aria-hidden', 'true');
  copy.classList.add('flying');
  Object.assign(copy.style, {
    left: `${start.left}px`,
    top: `${start.top}px`,
    width: `${start.width}px`,
    height: `${start.height}px`,
  });
  document.body.append(copy);
  const scale = Math.min(end.width / start.width, end.height / start.height);
  const across = end.left + end.width / 2 - (start.left + start.width / 2);
  const down = end.top + end.height / 2 - (start.top + start.height / 2);
  const flight = copy.animate(
    [
      { transform: 'none', opacity: 1 },
      { transform: `translate(${across}px, ${down}px) scale(${scale})`, opacity: 0.4 },
    ],
    { duration: 380, easing: 'ease-in' },
  );
  const away = () => copy.remove();
  flight.finished.then(away, away);
}
