/** One line over the head of the page, with a way back where there is one. */
export interface Toast {
  id: number;
  text: string;
  tone: 'plain' | 'error';
  undo?: (() => void | Promise<void>) | undefined;
}

/** What the tail of the page (loaded later) shows. */
type Sink = (toast: Toast) => void;
let sink: Sink | null = null;
const waiting: Toast[] = [];
let next = 1;

/** Say something in passing. The list of toasts is loaded after the first sheet; until then they wait. */
export function toast(text: string, options: { undo?: () => void | Promise<void>; tone?: Toast['tone'] } = {}): void {
  const t: Toast = { id: next, text, tone: options.tone ?? 'plain', undo: options.undo };
  next += 1;
  if (sink) sink(t);
  else waiting.push(t);
}

export function connectToasts(s: Sink): void {
  sink = s;
  for (const t of waiting.splice(0)) s(t);
}

/** Tell what went wrong with something that has no field of its own. */
export const toastError = (error: unknown): void =>
  toast(error instanceof Error ? error.message : String(error), { tone: 'error' });
