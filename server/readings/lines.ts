import type { IncomingMessage } from 'node:http';
import type { Readable } from 'node:stream';
import { encodingOf } from '#core/files/encoding.ts';
import { HttpProblem } from '../problem.ts';

/** No line of readings is longer than this; what is longer is cut, and so no reading. */
const LONGEST_LINE = 20_000;

/** What ends a line: a line feed, or in old files a carriage return alone. */
type LineEnd = '\n' | '\r';

/** @throws HttpProblem 415 when the lines of a body are packed: they are read as they come */
export function mustBePlain({ headers }: IncomingMessage): void {
  const encoding = headers['content-encoding'] ?? 'identity';
  if (encoding.trim().toLowerCase() === 'identity') return;
  throw new HttpProblem(415, 'Lines are taken unpacked', {
    detail: `Send them without Content-Encoding (it is ${encoding.slice(0, 40)}).`,
  });
}

/**
 * Lines of a request body as they arrive, a chunk's lines at a time, without holding the whole: UTF-8 or UTF-16, ended by line feeds (with
 * carriage returns or without) or by carriage returns alone, the last line without its end too.
 * @param count told of the bytes of each chunk; what it throws ends the reading
 * @param unended told before the last line when it has no end
 */
export async function* linesOf(
  stream: Readable,
  count: (bytes: number) => void,
  unended: () => void = () => undefined,
): AsyncGenerator<string[]> {
  let decoder: InstanceType<typeof TextDecoder> | null = null;
  let rest = '';
  let head = Buffer.alloc(0);
  let end: LineEnd | null = null;
  const cut = (): string[] => {
    if (end === null && rest.includes('\n')) end = '\n';
    // Longer than any line and not one line feed: the carriage returns end them.
    if (end === null && rest.length > LONGEST_LINE && rest.includes('\r')) end = '\r';
    if (end === null) return [];
    const lines = rest.split(end);
    rest = lines.pop() ?? '';
    if (rest.length > LONGEST_LINE) rest = rest.slice(0, LONGEST_LINE);
    return lines;
  };
  // The stream is left open on a refusal, so that the answer still reaches the sender.
  for await (const chunk of stream.iterator({ destroyOnReturn: false })) {
    let part = chunk as Buffer;
    count(part.length);
    if (!decoder) {
      // The encoding shows in the first bytes; a first chunk may be shorter than that.
      head = Buffer.concat([head, part]);
      if (head.length < 4) continue;
      decoder = new TextDecoder(encodingOf(head));
      part = head;
    }
    rest += decoder.decode(part, { stream: true });
    const lines = cut();
    if (end === null && rest.length > LONGEST_LINE) rest = rest.slice(0, LONGEST_LINE);
    if (lines.length > 0) yield lines;
  }
  rest += decoder ? decoder.decode() : head.toString();
  if (end === null && rest.includes('\r')) end = rest.includes('\n') ? '\n' : '\r';
  if (rest === '') return;
  const lines = end === null ? [] : cut();
  if (lines.length > 0) yield lines;
  if (rest === '') return;
  unended();
  yield [rest];
}
