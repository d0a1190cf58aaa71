import { Injectable, inject } from '@angular/core';
import { FootageNoise } from '@hazy-lens/core';
import type { MediaSource } from '../media-source';
import { Rasters } from '../rasters';

/** How noisy the frames of footage are; what was measured is known for as long as the footage is open. */
@Injectable({ providedIn: 'root' })
export class NoiseMeasurer {
  private readonly rasters = inject(Rasters);
  private readonly known = new WeakMap<MediaSource, FootageNoise>();

  of(material: MediaSource): FootageNoise {
    let noise = this.known.get(material);
    if (!noise) {
      noise = new FootageNoise(async (frame) => {
        const { picture, giveBack } = await material.borrow(frame);
        try {
          const { rawPixels, format, width, height } = picture;
          return await this.rasters.remote.noise(rawPixels, format, { width, height });
        } finally {
          giveBack();
        }
      });
      this.known.set(material, noise);
    }
    return noise;
  }
}
