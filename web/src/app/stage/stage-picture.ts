import { Injectable, computed, inject, signal } from '@angular/core';
import type { Primaries, Region } from '@hazy-lens/core';
import type { Frame } from '../engine/stage-render-loop';
import { imageDataOf } from '../engine/image-data';
import { sameRegion } from '../engine/region-renderer';
import { ViewStore } from '../workspace/view-store';
import { placeRegion } from '../workspace/view-transform';
import { Viewport } from '../workspace/viewport';
import type { Spot } from './handles/handles';
import { meanLight } from './mean-light';

/** The canvases of a stage: the picture as it is now, and as it came. */
export interface StageCanvases {
  after: HTMLCanvasElement;
  before: HTMLCanvasElement;
}

/** What is painted on the stage, and where it lies there. */
@Injectable()
export class StagePicture {
  private readonly viewport = inject(Viewport);
  private readonly viewStore = inject(ViewStore);
  private readonly shownRegion = signal<Region | null>(null, {
    equal: (a, b) => a === b || (!!a && !!b && sameRegion(a, b)),
  });
  /** Counts the pictures that were painted while something follows them. */
  private readonly painted = signal(0);
  private readonly buffers: { after?: ImageData; before?: ImageData } = {};

  /** Where it lies, in pixels of the stage. */
  readonly place = computed(() => {
    const region = this.shownRegion();
    const view = this.viewport.view();
    if (!region) return { left: 0, top: 0, width: 0, height: 0 };
    return placeRegion(region, view, this.viewport.sheet(), this.viewport.pixelRatio());
  });

  /** The picture as it came, as it stands on the stage. */
  get before(): ImageData | undefined {
    return this.buffers.before;
  }

  /** The picture as it is now, while its clipped places are marked; another object with each that is painted. */
  readonly marked = computed<ImageData | undefined>(() => {
    this.painted();
    const now = this.viewStore.clipped() ? this.buffers.after : undefined;
    return now && imageDataOf(now.data, now.width, now.height, now.colorSpace);
  });

  paint(frame: Frame, canvases: StageCanvases): void {
    const { source, output } = frame.primaries;
    this.put('after', canvases, frame.region, frame.pixels, output, output);
    if (frame.moved) this.put('before', canvases, frame.region, frame.before(), source, output);
    this.shownRegion.set(frame.region);
    if (this.viewStore.clipped()) this.painted.update((count) => count + 1);
  }

  /** @param of the pixels. @param shown of the canvas, which are those of its first picture: a stage is of one project. */
  private put(
    which: keyof StageCanvases,
    canvases: StageCanvases,
    { width, height }: Region,
    pixels: Uint8Array,
    of: Primaries,
    shown: Primaries,
  ): void {
    const canvas = canvases[which];
    let image = this.buffers[which];
    if (!image || image.width !== width || image.height !== height) {
      image = this.buffers[which] = imageDataOf(null, width, height, of);
      canvas.width = width;
      canvas.height = height;
    }
    image.data.set(pixels);
    canvas.getContext('2d', { alpha: false, colorSpace: shown })!.putImageData(image, 0, 0);
  }

  /** The linear light of the original about a place on the stage; null beside the picture. @param reach in pixels of the stage. */
  lightAt(at: Spot, reach: number): [number, number, number] | null {
    const image = this.before;
    const { left, top, width, height } = this.place();
    const [u, v] = [(at.x - left) / width, (at.y - top) / height];
    if (!image || u < 0 || v < 0 || u >= 1 || v >= 1) return null;
    return meanLight(image, Math.floor(u * image.width), Math.floor(v * image.height), reach);
  }
}
