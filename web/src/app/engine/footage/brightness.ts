import { Injectable, inject } from '@angular/core';
import { brightnessOf } from '@hazy-lens/core';
import type { MediaSource } from '../media-source';
import { Rasters } from '../rasters';

/** How bright the frames of footage are, in stops; measured once for as long as the footage is open. */
@Injectable({ providedIn: 'root' })
export class Brightness {
  private readonly rasters = inject(Rasters);
  private readonly known = new WeakMap<MediaSource, Promise<Float64Array>>();

  /** @throws what reading a frame throws; it can be asked for again then. */
  of(material: MediaSource): Promise<Float64Array> {
    let measured = this.known.get(material);
    if (!measured) {
      measured = this.measure(material);
      this.known.set(material, measured);
      measured.catch(() => this.known.delete(material));
    }
    return measured;
  }

  private async measure(material: MediaSource): Promise<Float64Array> {
    const { width, height, frames, footage } = material;
    const grids: Float32Array[] = [];
    for (let i = 0; i < frames; i++) {
      const { picture, giveBack } = await material.borrow(i);
      const { rawPixels } = picture;
      grids.push(await this.rasters.remote.lightGrid(rawPixels, footage!.format, { width, height }));
      giveBack();
    }
    return brightnessOf(grids);
  }
}
