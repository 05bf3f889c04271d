import { otherWork } from '../loop.ts';
import { badInput } from '../problem.ts';

/** Some milliseconds of work, in characters. */
const SLICE = 250_000;

const [QUOTE, BACKSLASH, COMMA] = [0x22, 0x5c, 0x2c];
const [OPEN_LIST, CLOSE_LIST, OPEN_OBJECT, CLOSE_OBJECT] = [0x5b, 0x5d, 0x7b, 0x7d];
const BLANK = /^[ \t\n\r]*$/;

/** @throws HttpProblem 400 that names the element */
function element(text: string, index: number): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    throw badInput([{ pointer: `/${index}`, detail: `is not JSON: ${(error as Error).message}` }], 'The body is not JSON');
  }
}

/**
 * The value of a JSON text. A long list is cut into its elements, and between two slices of it others have a turn: 25 MB in one go keep
 * everybody waiting for a quarter of a second. The answer is that of `JSON.parse`; whether a text is JSON too.
 * @param slice characters of a slice; a shorter text is parsed in one go
 * @throws HttpProblem 400 where it isn't JSON, with the element where it is a long list
 */
export async function parseInSlices(text: string, slice = SLICE): Promise<unknown> {
  const begin = text.search(/[^ \t\n\r]/);
  if (text.length < slice || text.charCodeAt(begin) !== OPEN_LIST) {
    try {
      return JSON.parse(text);
    } catch (error) {
      throw badInput([{ pointer: '', detail: `is not JSON: ${(error as Error).message}` }], 'The body is not JSON');
    }
  }
  const out: unknown[] = [];
  let depth = 0;
  let quoted = false;
  let from = begin + 1;
  let sliceEnd = slice;
  for (let at = from; at < text.length; at += 1) {
    const c = text.charCodeAt(at);
    if (quoted) {
      if (c === BACKSLASH) at += 1;
      else if (c === QUOTE) quoted = false;
    } else if (c === QUOTE) quoted = true;
    else if (c === OPEN_LIST || c === OPEN_OBJECT) depth += 1;
    else if (depth > 0) {
      if (c === CLOSE_LIST || c === CLOSE_OBJECT) depth -= 1;
    } else if (c === COMMA || c === CLOSE_LIST) {
      const last = text.slice(from, at);
      if (c === COMMA || out.length > 0 || !BLANK.test(last)) out.push(element(last, out.length));
      from = at + 1;
      if (c === CLOSE_LIST) {
        if (BLANK.test(text.slice(from))) return out;
        break;
      }
      if (at >= sliceEnd) {
        sliceEnd = at + slice;
        await otherWork();
      }
    }
  }
  throw badInput([{ pointer: `/${out.length}`, detail: 'the list has no end, or something follows it' }], 'The body is not JSON');
}
