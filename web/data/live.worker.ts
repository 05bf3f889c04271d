import { addressOf } from './address.ts';
import { type Listener, type LiveAsk, LiveLine } from './live-line.ts';

const line = new LiveLine((rigs, last) => addressOf('liveRigs', { query: { rigs, last } }));

// The compiler knows a page's globals here, not a shared worker's.
const scope = globalThis as unknown as { onconnect: ((e: MessageEvent) => void) | null };
scope.onconnect = (e) => {
  const port = e.ports[0] as MessagePort;
  const listener: Listener = { rigId: null, tell: (word) => port.postMessage(word) };
  port.onmessage = ({ data }: MessageEvent<LiveAsk | { bye: true }>) => {
    if ('bye' in data) line.leave(listener);
    else if ('again' in data) line.again();
    else line.want(listener, data.want, data.after);
  };
};
