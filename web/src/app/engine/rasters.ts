import { Injectable, inject, signal } from '@angular/core';
import type { Raster } from '@hazy-lens/core';
import { type Remote, wrap } from 'comlink';
import { Projects } from '../storage/projects';
import type { RasterApi } from './raster.worker';

/** The grey pictures that recipes name, decoded once, and kept in this browser. */
@Injectable({ providedIn: 'root' })
export class Rasters {
  private readonly projects = inject(Projects);
  private worker: Remote<RasterApi> | null = null;
  private readonly known = new Map<string, Promise<Raster>>();
  private readonly files = new Map<string, Blob>();
  /** Changes when a picture is replaced by a finer one of the same name. */
  readonly replaced = signal(0);

  /** The worker that decodes and computes; started when first needed. */
  get remote(): Remote<RasterApi> {
    this.worker ??= wrap<RasterApi>(
      new Worker(new URL('./raster.worker', import.meta.url), { type: 'module' }),
    );
    return this.worker;
  }

  /** The picture of a name. @throws Error with a sentence where it is not in this browser. */
  get(name: string): Promise<Raster> {
    let raster = this.known.get(name);
    if (!raster) {
      raster = this.file(name).then((file) => this.remote.raster(name, file));
      this.known.set(name, raster);
      raster.catch(() => this.known.delete(name));
    }
    return raster;
  }

  /** The file of a name. @throws Error with a sentence where it is not in this browser. */
  async file(name: string): Promise<Blob> {
    const file = this.files.get(name) ?? (await this.projects.asset(name));
    if (!file)
      throw new Error(
        `The picture “${name}” that the recipe names is not in this browser. Please bring it in again.`,
      );
    return file;
  }

  /** True for a name whose picture is in this browser. */
  async has(name: string): Promise<boolean> {
    return this.files.has(name) || (await this.projects.asset(name)) !== null;
  }

  /** Keeps a picture under a name, for now in memory and as far as there is room in the browser's storage. */
  async put(name: string, raster: Raster, file: Blob): Promise<void> {
    this.show(name, raster);
    this.files.set(name, file);
    // The autosave tells where there is no room; the picture stays usable in this window.
    await this.projects.saveAsset(name, file).catch(() => undefined);
  }

  /** Puts a picture in place under a name without keeping it: a draft of what `put` brings later. */
  show(name: string, raster: Raster): void {
    this.known.set(name, Promise.resolve(raster));
    this.replaced.update((count) => count + 1);
  }
}
