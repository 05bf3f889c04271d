import type { Readable } from 'node:stream';
import { HttpProblem } from '../problem.ts';

/** No single reading is longer than this. */
const LONGEST_LINE = 10_000;

/**
 * Lines of a request body as they arrive, a chunk's lines at a time, without holding the whole.
 * @param limit bytes after which the body is refused
 * @throws HttpProblem 413 past the limit
 */
export async function* linesOf(stream: Readable, limit: number): AsyncGenerator<string[]> {
  const decoder = new TextDecoder();
  let rest = '';
  let bytes = 0;
  // The stream is left open on a refusal, so that the answer still reaches the sender.
  for await (const chunk of stream.iterator({ destroyOnReturn: false })) {
    bytes += (chunk as Buffer).length;
    if (bytes > limit)
      throw new HttpProblem(413, 'The body is too large', { detail: `At most ${limit / 1_000_000} MB are taken.` });
    rest += decoder.decode(chunk as Buffer, { stream: true });
    const lines = rest.split('\n');
    rest = lines.pop() ?? '';
    if (rest.length > LONGEST_LINE) rest = rest.slice(0, LONGEST_LINE);
    yield lines;
  }
  rest += decoder.decode();
  if (rest !== '') yield [rest];
}
