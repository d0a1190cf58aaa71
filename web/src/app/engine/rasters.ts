import { Injectable, inject, signal } from '@angular/core';
import { type Raster, makeRaster, sharedSamples } from '@hazy-lens/core';
import type { Remote } from 'comlink';
import { Assets } from './assets';
import { decodeGrey } from './codecs/codec';
import type { RasterApi } from './raster.worker';
import { remoteOf } from './remote';

/** The name of an empty matte: every browser has it, so that a recipe can name it at once. */
export const BLANK_MATTE = 'matte-blank.png';
const BLANK_SIDE = 8;

const blankMatte = (): Raster =>
  makeRaster(BLANK_MATTE, BLANK_SIDE, BLANK_SIDE, sharedSamples(BLANK_SIDE ** 2));

/** The grey pictures that recipes name, decoded once, and kept in this browser. */
@Injectable({ providedIn: 'root' })
export class Rasters {
  private readonly assets = inject(Assets);
  private worker: Remote<RasterApi> | null = null;
  private readonly known = new Map([[BLANK_MATTE, Promise.resolve(blankMatte())]]);
  /** Changes when a picture is replaced by a finer one of the same name. */
  readonly replaced = signal(0);

  /** The worker that decodes and computes; started when first needed. */
  get remote(): Remote<RasterApi> {
    this.worker ??= remoteOf<RasterApi>(
      new Worker(new URL('./raster.worker', import.meta.url), { type: 'module' }),
    );
    return this.worker;
  }

  /** The picture of a name. @throws Error with a sentence where it is not in this browser. */
  get(name: string): Promise<Raster> {
    let raster = this.known.get(name);
    if (!raster) {
      raster = this.file(name).then((file) => this.read(name, file, name));
      this.known.set(name, raster);
      raster.catch(() => this.known.delete(name));
    }
    return raster;
  }

  /** Decodes a grey picture under an id. @throws Error with a sentence that names the file. */
  async read(id: string, file: Blob, fileName: string): Promise<Raster> {
    const { width, height, samples } = await decodeGrey(file, fileName);
    return this.remote.raster(id, { width, height, samples });
  }

  /** The file of a name. @throws Error with a sentence where it is not in this browser. */
  async file(name: string): Promise<Blob> {
    if (name === BLANK_MATTE) return this.remote.encode(blankMatte().levels[0], 8);
    return this.assets.file(name);
  }

  /** True for a name whose picture is in this browser. */
  async has(name: string): Promise<boolean> {
    return name === BLANK_MATTE || this.assets.has(name);
  }

  /** Keeps a picture under a name, see `Assets`. */
  async put(name: string, raster: Raster, file: Blob, isDraft = false): Promise<void> {
    this.known.set(name, Promise.resolve(raster));
    await this.assets.put(name, file, isDraft);
    this.replaced.update((count) => count + 1);
  }
}
