import { expose } from 'comlink';
import { GpxReader, type GpxWay } from './gpx-reader.ts';

const work = {
  /** Read a file piece by piece: a long one would hold up the page for seconds. */
  async read(file: File): Promise<GpxWay> {
    const reader = new GpxReader();
    const pieces = file.stream().pipeThrough(new TextDecoderStream()).getReader();
    for (;;) {
      const { done, value } = await pieces.read();
      if (done) return reader.end();
      reader.write(value);
    }
  },
};
export type GpxWork = typeof work;
expose(work);
