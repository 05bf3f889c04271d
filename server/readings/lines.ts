import type { Readable } from 'node:stream';
import { encodingOf } from '#core/files/encoding.ts';

/** No line of readings is longer than this; what is longer is cut, and so no reading. */
const LONGEST_LINE = 20_000;

/**
 * Lines of a request body as they arrive, a chunk's lines at a time, without holding the whole: UTF-8 or UTF-16, the last line without its
 * end too.
 * @param count told of the bytes of each chunk; what it throws ends the reading
 */
export async function* linesOf(stream: Readable, count: (bytes: number) => void): AsyncGenerator<string[]> {
  let decoder: InstanceType<typeof TextDecoder> | null = null;
  let rest = '';
  let head = Buffer.alloc(0);
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
    const lines = rest.split('\n');
    rest = lines.pop() ?? '';
    if (rest.length > LONGEST_LINE) rest = rest.slice(0, LONGEST_LINE);
    if (lines.length > 0) yield lines;
  }
  rest += decoder ? decoder.decode() : head.toString();
  if (rest !== '') yield [rest];
}
