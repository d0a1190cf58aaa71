import { Injectable, inject } from '@angular/core';
import {
  type Recipe,
  type RasterLevel,
  type Render,
  type Size,
  buildOctaves,
  createMemory,
  fullSigma,
  insertExif,
  normaliseExif,
  openRender,
  planRender,
  recipeLook,
  renderStrips,
  sharedBuffer,
  sharedSamples,
} from '@hazy-lens/core';
import { type EncodeOptions, encodePixels } from './codec';
import { Engine } from './engine';
import { FocusPicturesSource } from './focus-pictures';

export interface ExportOptions extends EncodeOptions {
  /** EXIF block of the source, to be kept. */
  exif: Uint8Array | null;
}

export interface ExportProgress {
  /** 0..1 */
  done: number;
  stage: 'reading' | 'rendering' | 'writing';
}

const STRIP_ROWS = 32;
const SHARE = { reading: 0.15, rendering: 0.55 };

/** Renders the open picture at its export size and writes it as a file. */
@Injectable({ providedIn: 'root' })
export class Exporter {
  private readonly engine = inject(Engine);
  private readonly focusPictures = inject(FocusPicturesSource);

  /** The haze field of the open picture at a size: 65535 is haze 1. */
  async hazeMap(recipe: Recipe, size: Size): Promise<RasterLevel> {
    const { pool } = this.engine;
    const { width, height } = size;
    const plan = planRender({
      region: { x: 0, y: 0, width, height, picture: { width, height } },
      format: { channels: 4, bytes: 1 },
      maxSigma: 0,
      workers: pool.runners.length,
      stripRows: STRIP_ROWS,
    });
    const memory = createMemory(plan.bytes);
    const render: Render = { slot: 'map', plan, memory, runners: pool.runners };
    try {
      await openRender(await pool.module, render);
      await renderStrips(render, recipeLook(recipe, await this.focusPictures.settled()), 'haze16');
      const samples = sharedSamples(width * height);
      samples.set(new Uint16Array(memory.buffer, plan.output, samples.length));
      return { width, height, samples };
    } finally {
      await close(render);
    }
  }

  /** @throws the signal's reason where the person cancels; RangeError where memory runs out. */
  async export(
    recipe: Recipe,
    options: ExportOptions,
    onProgress: (progress: ExportProgress) => void,
    signal: AbortSignal,
  ): Promise<Blob> {
    const { pool } = this.engine;
    const picture = this.engine.picture();
    if (!picture) throw new Error('There is no picture open.');
    const size: Size = { width: options.width, height: options.height };
    const region = { x: 0, y: 0, ...size, picture: size };
    const plan = planRender({
      region,
      format: { channels: 4, bytes: 1 },
      maxSigma: fullSigma(recipe.blur, size),
      workers: pool.runners.length,
      stripRows: STRIP_ROWS,
    });
    const memory = createMemory(plan.bytes);
    const buffer = sharedBuffer(memory);
    const render: Render = { slot: 'export', plan, memory, runners: pool.runners };
    try {
      onProgress({ done: 0, stage: 'reading' });
      const look = recipeLook(recipe, await this.focusPictures.settled());
      await picture.cut(pool, region, buffer, plan.source);
      signal.throwIfAborted();
      await openRender(await pool.module, render);
      await buildOctaves(render, signal);
      const rendering = (done: number): void =>
        onProgress({ done: SHARE.reading + SHARE.rendering * done, stage: 'rendering' });
      await renderStrips(render, look, 'picture', rendering, signal);
      onProgress({ done: SHARE.reading + SHARE.rendering, stage: 'writing' });
      const blob = await encodePixels(buffer, plan.output, options, signal);
      if (!options.exif) return blob;
      const file = insertExif(new Uint8Array(await blob.arrayBuffer()), normaliseExif(options.exif, size));
      return new Blob([file as Uint8Array<ArrayBuffer>], { type: blob.type });
    } finally {
      await close(render);
    }
  }
}

/** Frees what the workers hold for a render. */
async function close({ slot, runners }: Render): Promise<void> {
  await Promise.all(runners.map((run) => run({ kind: 'close', slot })));
}
