/** Encodings files of readings come in. */
export type FileEncoding = 'utf-8' | 'utf-16le' | 'utf-16be';

/** Encoding of a file from its first bytes: its byte order mark, or zeros where UTF-16 has them in plain figures. */
export function encodingOf(start: Uint8Array): FileEncoding {
  if (start[0] === 0xff && start[1] === 0xfe) return 'utf-16le';
  if (start[0] === 0xfe && start[1] === 0xff) return 'utf-16be';
  let odd = 0;
  let even = 0;
  const n = Math.min(start.length, 512);
  for (let i = 0; i < n; i += 1) {
    if (start[i] !== 0) continue;
    if (i % 2 === 1) odd += 1;
    else even += 1;
  }
  if (odd > n / 4) return 'utf-16le';
  if (even > n / 4) return 'utf-16be';
  return 'utf-8';
}
