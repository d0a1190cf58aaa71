import { type Cells, type LocalLightness, measureCells } from '../colour/clarity';
import type { ColourSettings } from '../colour/step';
import { FINISH_STEPS } from '../finish';
import type { FinishSettings } from '../finish/step';
import { type Noise, measureNoise } from '../finish/grain/noise';
import type { Size } from '../geometry/size';
import type { Placement } from '../geometry/raster';
import type { FrameFormat } from '../pixels/format';

/**
 * What steps measure on a source: on all of it at its own size, once, so that a view at any zoom, an export and the command
 * line work with the same numbers. Each is measured when it is first asked for.
 */
export class SourceMeasures {
  private knownNoise: Noise | null = null;
  private knownCells: Cells | null = null;

  /** @param id the same for the same pixels. @param bytes the source's pixels, which nobody changes any more. */
  constructor(
    readonly id: string,
    private readonly bytes: Uint8Array,
    private readonly format: FrameFormat,
    private readonly size: Size,
  ) {}

  /** How noisy it is, by brightness. */
  get noise(): Noise {
    this.knownNoise ??= measureNoise(this.bytes, this.format, this.size);
    return this.knownNoise;
  }

  /** How light it is from place to place. */
  get cells(): Cells {
    this.knownCells ??= measureCells(this.bytes, this.format, this.size);
    return this.knownCells;
  }
}

/** Measures of a source, and which part of it lies under the picture in hand: all of it where nothing is said. */
export interface Measured {
  source: SourceMeasures;
  at?: Placement;
  /** In place of the source's own: that of frames of footage is smoothed over time. */
  noise?: Noise;
}

/** How noisy what is in hand is. */
export const noiseIn = ({ source, noise }: Measured): Noise => noise ?? source.noise;

/** True where a step of a look wants to know something of the source. */
export function needsMeasures(look: Pick<ColourSettings & FinishSettings, 'colour' | 'finish'>): boolean {
  return needsLocalLightness(look) || needsNoise(look);
}

export function needsLocalLightness({ colour }: Pick<ColourSettings, 'colour'>): boolean {
  return colour.on && colour.clarity !== 0;
}

export function needsNoise(look: Pick<FinishSettings, 'finish'>): boolean {
  return FINISH_STEPS.some((step) => step.needsNoise(look));
}

/** What the threads are told of a source: only what the look in hand wants. */
export interface Known {
  /** Under the look's light, of the primaries that come out. */
  noise: Noise | null;
  surroundings: LocalLightness | null;
}
