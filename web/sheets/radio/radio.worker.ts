import { expose } from 'comlink';
import { type Placed, placeRepeater } from '#core/radio/estimate.ts';
import type { Scene } from '#core/radio/scene.ts';

const work = {
  /** Look at every 5 cm of the frames; told how far it has come. */
  place(scene: Scene, onProgress: (share: number) => void): Placed | null {
    let last = 0;
    return placeRepeater(scene, 0.05, (share) => {
      const now = performance.now();
      if (now - last < 50 && share < 1) return;
      last = now;
      onProgress(share);
    });
  },
};
export type RadioWork = typeof work;
expose(work);
