/**
 * What Playwright does for others than us, left out: its processes computed as much as the browser's own. Imported by `server.ts`, so once in each
 * process that runs tests.
 */
import childProcess, { type ChildProcess } from 'node:child_process';
import type { Writable } from 'node:stream';

// Playwright asks where it was called from at each of its steps, and translates every line of the answer to the source it was made from: a fifth
// of its time. It reads none of Node's lines, and of a row of its own only the last, by which it was called. Ours are translated, each once.
const translated = Error.prepareStackTrace;
const known = new Map<string, string>();
const PACKAGES = '/node_modules/';
/** @returns the package a line is of; empty for ours, null for Node's own */
function packageOf(frame: NodeJS.CallSite): string | null {
  const file = frame.getFileName() ?? '';
  if (file === '' || file.startsWith('node:')) return null;
  const at = file.lastIndexOf(PACKAGES);
  if (at < 0) return '';
  const from = at + PACKAGES.length;
  return file.slice(from, file.indexOf('/', from));
}
if (translated)
  Error.prepareStackTrace = (error, frames) => {
    const head = `${error.name}: ${error.message}`;
    let lines = head;
    let before: { frame: NodeJS.CallSite; of: string } | null = null;
    for (const frame of frames) {
      const of = packageOf(frame);
      if (of === null) continue;
      if (before && before.of !== of) lines += `\n    at ${before.frame}`;
      before = of === '' ? null : { frame, of };
      if (before) continue;
      const plain = String(frame);
      let line = known.get(plain);
      if (line === undefined) {
        line = String(translated(error, [frame])).slice(head.length);
        known.set(plain, line);
      }
      lines += line;
    }
    return before ? `${lines}\n    at ${before.frame}` : lines;
  };
// And it makes an error for every message to the browser, in case that fails, with two hundred lines of where it was.
Error.stackTraceLimit = 10;

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
