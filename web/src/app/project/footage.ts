import { Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import {
  BLENDED,
  type FrameShare,
  type Timeline,
  brightnessOf,
  flickerGains,
  frameAt,
  timelineOf,
} from '@hazy-lens/core';
import { Engine } from '../engine/engine';
import type { Material } from '../engine/material';
import { Picture } from '../engine/picture';
import { Rasters } from '../engine/rasters';
import { OpenProject } from './open-project';
import { Playhead } from './playhead';

/** The footage that is open: its times, what the pace makes of them, and which frame is in view. */
@Injectable({ providedIn: 'root' })
export class Footage {
  private readonly engine = inject(Engine);
  private readonly project = inject(OpenProject);
  private readonly playhead = inject(Playhead);
  private readonly rasters = inject(Rasters);
  readonly facts = computed(() => this.engine.material()?.footage ?? null);
  readonly isOpen = computed(() => this.facts() !== null);
  readonly times = computed(() => this.facts()?.times ?? { starts: [0], end: 1 / 30 });
  private readonly pace = computed(() => this.project.keyed().pace);
  readonly timeline = computed<Timeline>(() => timelineOf(this.pace(), this.times()));
  /** Where the playhead is, or is on its way to, in seconds of the source. */
  readonly at = signal(0);
  /** The frame of the source at the playhead. */
  readonly frame = computed(() => frameAt(this.times(), this.at()));
  /** Counts what was asked for: only the newest is shown. */
  private turn = 0;
  /** How bright each frame is, in stops; null until it was measured. */
  readonly brightness = signal<Float64Array | null>(null);
  private readonly gains = computed(() => {
    const stops = this.brightness();
    const { on, deflicker } = this.pace();
    return stops && on && deflicker.amount > 0 ? flickerGains(stops, this.times(), deflicker) : null;
  });
  /** What the light of the frame in view is multiplied by. */
  readonly light = computed(() => this.gains()?.[frameAt(this.times(), this.playhead.time())] ?? 1);
  private readonly wantsBrightness = computed(() => this.isOpen() && this.pace().deflicker.amount > 0);
  private measuring: Material | null = null;

  constructor() {
    effect(() => {
      this.engine.material();
      untracked(() => this.rewind());
    });
    effect(() => {
      const material = this.engine.material();
      if (material && this.wantsBrightness()) untracked(() => void this.measure(material));
    });
  }

  private rewind(): void {
    this.turn++;
    this.brightness.set(null);
    this.measuring = null;
    this.at.set(0);
    this.playhead.time.set(0);
  }

  /** Puts a frame of the source in view. */
  async seek(frame: number): Promise<void> {
    const material = this.engine.material();
    if (!material?.footage) return;
    const { starts } = this.times();
    const index = Math.min(starts.length - 1, Math.max(0, Math.round(frame)));
    const time = starts[index]!;
    const turn = ++this.turn;
    this.at.set(time);
    const picture = await material.frame(index);
    if (turn === this.turn) this.put(picture, time);
  }

  seekTime(time: number): Promise<void> {
    return this.seek(frameAt(this.times(), time));
  }

  /** Puts a picture in view that shows a time of the source. */
  put(picture: Picture, time: number): void {
    this.at.set(time);
    this.playhead.time.set(time);
    this.engine.show(picture);
  }

  /** The gain of a frame of the source; measures first where it must. */
  async lightOf(frame: number): Promise<number> {
    const material = this.engine.material();
    if (material && this.wantsBrightness()) await this.measure(material);
    return this.gains()?.[frame] ?? 1;
  }

  /** Measures how bright all frames are, once. */
  private async measure(material: Material): Promise<void> {
    if (this.measuring === material || !material.footage) return;
    this.measuring = material;
    const { format } = material.footage;
    const grids: Float32Array[] = [];
    for (let i = 0; i < material.frames; i++) {
      const picture = await material.frame(i);
      if (this.measuring !== material) return;
      grids.push(await this.rasters.remote.lightGrid(picture.pixelsAsTheyLie, format, material));
    }
    if (this.measuring === material) this.brightness.set(brightnessOf(grids));
  }
}

/** The picture that frames of footage are averaged to; a single one as it is. */
export async function blendedPicture(
  material: Material,
  shares: readonly FrameShare[],
  engine: Engine,
): Promise<Picture> {
  if (shares.length === 1) return material.frame(shares[0]!.frame);
  const pictures = await Promise.all(shares.map(({ frame }) => material.frame(frame)));
  const { width, height } = material;
  const target = new SharedArrayBuffer(width * height * BLENDED.channels * BLENDED.bytes);
  const { runners, module } = engine.pool;
  const compiled = await module;
  const bound = (i: number): number => Math.round((height * i) / runners.length);
  await Promise.all(
    runners.map((run, i) =>
      run({
        kind: 'blend',
        module: compiled,
        blend: {
          format: pictures[0]!.format,
          size: { width, height },
          sources: pictures.map((picture, k) => ({
            pixels: picture.pixelsAsTheyLie,
            share: shares[k]!.share,
          })),
          target,
          rows: [bound(i), bound(i + 1)],
        },
      }),
    ),
  );
  const id = pictures.map((picture, k) => `${picture.id}*${shares[k]!.share.toFixed(4)}`).join('+');
  return Picture.ofFrame({ pixels: target, width, height, format: BLENDED }, id);
}
