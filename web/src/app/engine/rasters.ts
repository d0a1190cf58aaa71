import { Injectable, inject, signal } from '@angular/core';
import { type Raster, makeRaster, rasterBytes, sharedSamples } from '@hazy-lens/core';
import { Assets } from './assets';
import { decodeGrey } from './codecs/codec';
import type { RasterApi } from './raster.worker';
import { Recent } from './recent';
import { WorkerClient } from './worker-client';

/** The name of an empty matte: every browser has it, so that a recipe can name it at once. */
export const BLANK_MATTE = 'matte-blank.png';
const BLANK_SIDE = 8;
/** What decoded pictures may take: the maps and mattes of one large picture, and those a step back brings again. */
const MAX_BYTES = 400_000_000;

const blankMatte = (): Raster =>
  makeRaster(BLANK_MATTE, BLANK_SIDE, BLANK_SIDE, sharedSamples(BLANK_SIDE ** 2));

/** The grey pictures that recipes name: kept in this browser, the last that were used decoded. */
@Injectable({ providedIn: 'root' })
export class Rasters {
  private readonly assets = inject(Assets);
  private readonly worker = new WorkerClient<RasterApi>(
    () => new Worker(new URL('./raster.worker', import.meta.url), { type: 'module' }),
    { isStateless: true },
  );
  private readonly known = new Recent<string, Raster>({ mostBytes: MAX_BYTES, bytesOf: rasterBytes });
  /** Changes when a picture is replaced by a finer one of the same name. */
  readonly replaced = signal(0);

  /** What the worker does that decodes and computes. */
  readonly remote = this.worker.call;

  /** The same, for as long as it is wanted. */
  until(signal: AbortSignal): typeof this.remote {
    return this.worker.with({ signal });
  }

  /** The picture of a name. @throws Error with a sentence where it is not in this browser. */
  get(name: string): Promise<Raster> {
    if (name === BLANK_MATTE) return Promise.resolve(blankMatte());
    return this.known.get(name, async () => this.read(name, await this.assets.file(name), name));
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
    this.known.put(name, Promise.resolve(raster));
    await this.assets.put(name, file, isDraft);
    this.replaced.update((count) => count + 1);
  }
}
