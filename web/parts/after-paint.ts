/** Do something once what was just pressed has been painted: a press must never wait for what it sets off. */
export function afterPaint(work: () => void): void {
  requestAnimationFrame(() => void setTimeout(work, 0));
}
