/**
 * What Playwright does for others than us, left out: its processes computed as much as the browser's own. Imported by `server.ts`, so once in each
 * process that runs tests.
 */
import childProcess, { type ChildProcess } from 'node:child_process';
import type { Writable } from 'node:stream';

// Playwright asks where it was called from at each of its steps, and translates every line of the answer to the source it was made from: a fifth
// of its time. Only the lines of our own files need that.
const translated = Error.prepareStackTrace;
if (translated)
  Error.prepareStackTrace = (error, frames) => {
    const head = `${error.name}: ${error.message}`;
    const lines = frames.map((frame) => {
      const file = frame.getFileName() ?? '';
      const plain = file === '' || file.startsWith('node:') || file.includes('/node_modules/');
      return plain ? `\n    at ${frame}` : String(translated(error, [frame])).slice(head.length);
    });
    return head + lines.join('');
  };

// Each step's begin and end are told to the process that reports, which shows only tests; what is attached is the test's, then, not a step's.
interface Told {
  params?: { method?: string; params?: { stepId?: string } };
}
const send = process.send as ((message: Told, ...rest: unknown[]) => boolean) | undefined;
if (send)
  process.send = ((...args: Parameters<typeof send>) => {
    const { method, params } = args[0].params ?? {};
    if (method === 'stepBegin' || method === 'stepEnd') return true;
    if (method === 'attach') delete params?.stepId;
    return send.apply(process, args);
  }) as typeof process.send;

// A message to the browser is written in two parts, and each wakes a thread there. What is written in one turn goes at once.
const spawn = childProcess.spawn as (...args: unknown[]) => ChildProcess;
childProcess.spawn = ((...args: unknown[]) => {
  const child = spawn(...args);
  const pipe = child.stdio?.[3] as Writable | null | undefined;
  if (pipe) {
    const write = pipe.write.bind(pipe) as (...parts: unknown[]) => boolean;
    pipe.write = ((...parts: unknown[]) => {
      if (pipe.writableCorked === 0) {
        pipe.cork();
        process.nextTick(() => pipe.uncork());
      }
      return write(...parts);
    }) as typeof pipe.write;
  }
  return child;
}) as typeof childProcess.spawn;
