/** The alarm's call: two falling notes with an open fifth between them, ours alone, every few seconds while it lasts. */

let context: AudioContext | null = null;
const listeners = new Set<() => void>();

/** Whether the page can be heard: a browser gives no sound before a press, and may take it away again. */
export const soundRunning = (): boolean => context?.state === 'running';

/** Call back when that changes. @returns ends it */
export function onSound(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Browsers let a page sound only after a press: call it from one. @returns false where there is no sound */
export async function wakeSound(): Promise<boolean> {
  try {
    if (!context) {
      context = new AudioContext();
      context.onstatechange = () => {
        for (const l of listeners) l();
      };
    }
    await context.resume();
    return context.state === 'running';
  } catch {
    return false;
  }
}

function note(ctx: AudioContext, hz: number, at: number, seconds: number): void {
  const tone = ctx.createOscillator();
  const gain = ctx.createGain();
  tone.type = 'triangle';
  tone.frequency.value = hz;
  gain.gain.setValueAtTime(0, at);
  gain.gain.linearRampToValueAtTime(0.35, at + 0.02);
  gain.gain.setValueAtTime(0.35, at + seconds - 0.08);
  gain.gain.linearRampToValueAtTime(0, at + seconds);
  tone.connect(gain).connect(ctx.destination);
  tone.start(at);
  tone.stop(at + seconds);
}

/** Ring once. */
export function ring(): void {
  if (context?.state !== 'running') return;
  const t = context.currentTime + 0.02;
  note(context, 988, t, 0.28);
  note(context, 659, t + 0.3, 0.42);
}

/** Taken: a fifth upward. */
export function soundTaken(): void {
  if (context?.state !== 'running') return;
  const t = context.currentTime + 0.02;
  note(context, 523, t, 0.14);
  note(context, 784, t + 0.13, 0.22);
}

/** Refused: one low note, twice. */
export function soundRefused(): void {
  if (context?.state !== 'running') return;
  const t = context.currentTime + 0.02;
  note(context, 220, t, 0.2);
  note(context, 220, t + 0.26, 0.2);
}
