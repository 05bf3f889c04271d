import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

let collect: (() => void) | null = null;

/**
 * Give back memory that is no longer used. On a machine with much of it the engine lets garbage grow to hundreds of megabytes before it
 * looks; this server may share a small board with other things. Takes some 20 ms.
 * @param overMb only when the process holds more than this, MB
 */
export function tidyMemory(overMb: number): void {
  if (process.memoryUsage.rss() < overMb * 1_000_000) return;
  if (!collect) {
    setFlagsFromString('--expose-gc');
    collect = runInNewContext('gc') as () => void;
  }
  collect();
}
